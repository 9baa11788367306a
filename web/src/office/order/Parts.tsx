import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { OrderPage } from "../../types";
import { decimal } from "../../ui/decimal";
import { quantity } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { tripText } from "../../ui/trip";
import { Failure } from "../queries";
import { FindPart } from "../stores/FindPart";
import { usePlannedParts } from "../stores/usePlannedParts";
import { TakeParts } from "./TakeParts";

interface Used {
  name: string;
  unit: string;
  quantity: string;
}

/** Parts of all visits: planned, asked for, used. */
export function Parts({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  const used = new Map<string, Used>();
  for (const p of page.visits.flatMap((v) => v.parts).filter((p) => !p.struck)) {
    const have = used.get(p.part);
    used.set(p.part, { name: p.name, unit: p.unit, quantity: have ? decimal(have.quantity).plus(decimal(p.quantity)).toString() : p.quantity });
  }
  const planned = new Set(page.needs.map((n) => n.part));
  const extras = page.visits.flatMap((v) => v.visit.extras ?? []).filter((x) => !x.struck);
  const kits = page.visits.flatMap((v) => v.kits).filter((k) => !k.struck);
  const nothing = used.size + page.needs.length + page.requests.length + extras.length + kits.length === 0;
  return (
    <section className="sec" aria-label={t("visit.parts")}>
      <h2>{t("visit.parts")}</h2>
      {nothing && <p className="quiet">{t("orderPage.noParts")}</p>}
      <Needs page={page} />
      {page.requests.map((r) => (
        <p className="line" key={r.id}>
          <span className="grow">
            {r.partName ?? r.request.text}
            <span className="small quiet block">{[t("ask.asked"), r.personName, r.due && t("orderPage.due", { day: r.due })].filter(Boolean).join(" · ")}</span>
          </span>
          <span className="end nowrap">
            <b>{quantity(r.request.quantity, r.unit ?? "")}</b> <Link to="/office/stores">{t(`request.${r.request.state}`)}</Link>
          </span>
        </p>
      ))}
      {kits.map((k) => (
        <p className="line" key={k.entry}>
          <span className="grow">
            {k.name} <span className="small quiet">{t("sheet.kit")}</span>
          </span>
          <b>{quantity(k.quantity, "")}</b>
        </p>
      ))}
      {[...used]
        .filter(([part]) => !planned.has(part))
        .map(([part, u]) => (
          <p className="line" key={part}>
            <span className="grow">{u.name}</span>
            <span className="end nowrap">
              <b>{quantity(u.quantity, u.unit)}</b> <span className="small quiet">{t("orderPage.used")}</span>
            </span>
          </p>
        ))}
      {extras.map((x) => (
        <p className="line" key={x.entry}>
          <span className="grow">
            {x.text} <span className="small quiet">{tripText(t, x.trip) || t(`extra.${x.kind}`)}</span>
          </span>
          <b>{quantity(x.quantity, x.unit ?? "")}</b>
        </p>
      ))}
    </section>
  );
}

/** What is planned: the office adds to it and takes from it. */
function Needs({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  const [adding, setAdding] = useState(false);
  const [taking, setTaking] = useState(false);
  const planned = usePlannedParts(page.line.id, page.order.needs);
  const may = planned.may && !["closed", "cancelled"].includes(page.state);
  return (
    <>
      {page.needs.map((n) => {
        const all = decimal(n.used).gte(decimal(n.quantity));
        const mine = planned.own.find((x) => x.part === n.part);
        return (
          <p className="line" key={n.part + (n.request ?? "")}>
            <span className="grow">
              {n.name} <span className="small quiet">{t("needs.title")}</span>
            </span>
            <span className="end nowrap">
              {all ? (
                <Tag kind="good">{t("orderPage.usedOf", { quantity: quantity(n.used, n.unit) })}</Tag>
              ) : (
                t("needs.planned", { quantity: quantity(n.quantity, n.unit) })
              )}
            </span>
            {may && mine && (
              <button type="button" className="link small" disabled={planned.busy} onClick={() => planned.drop(mine)}>
                {t("parts.drop")}
              </button>
            )}
          </p>
        );
      })}
      {may && (
        <p>
          <Button size="small" onClick={() => setAdding(true)}>
            {t("needs.add")}
          </Button>{" "}
          <Button size="small" onClick={() => setTaking(true)}>
            {t("takeParts.title")}
          </Button>
        </p>
      )}
      {adding && <FindPart title={t("needs.add")} onPick={(part) => planned.add(part, () => setAdding(false))} onClose={() => setAdding(false)} />}
      {taking && <TakeParts page={page} onClose={() => setTaking(false)} />}
      <Failure error={planned.error} />
    </>
  );
}
