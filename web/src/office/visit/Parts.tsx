import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { VisitView } from "../../types";
import { decimal } from "../../ui/decimal";
import { quantity as amount, price } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { isLater } from "../../ui/later";
import { tripText } from "../../ui/trip";
import { Failure, useCurrency } from "../queries";
import { FindPart } from "../stores/FindPart";
import { useRequests } from "../stores/queries";
import { usePlannedParts } from "../stores/usePlannedParts";

/** Parts of a visit: planned, used, taken out, charged beside the catalogue, asked for. */
export function Parts({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const extras = view.visit.extras ?? [];
  const nothing = view.parts.length + view.kits.length + view.removed.length + extras.length === 0;
  const currency = useCurrency();
  return (
    <section className="sec" aria-label={t("visit.parts")}>
      <h2>{t("visit.parts")}</h2>
      <Planned view={view} />
      {nothing && <p className="quiet">{t("page.nothing")}</p>}
      {view.kits.map((k) => (
        <Line
          key={k.entry}
          struck={k.struck}
          name={k.name}
          quantity={k.quantity}
          unit=""
          about={`${t("sheet.kit")} · ${k.lines.map((l) => `${l.quantity} × ${l.name}`).join(", ")}`}
        >
          {price(k.price, currency)}
        </Line>
      ))}
      {view.parts.map((p) => (
        <Line
          key={p.entry}
          struck={p.struck}
          name={p.name}
          quantity={p.quantity}
          unit={p.unit}
          about={[p.number, p.serial && t("parts.serialNo", { serial: p.serial }), isLater(view, p.at) && t("page.later")].filter(Boolean).join(" · ")}
        />
      ))}
      {view.removed.map((r) => (
        <Line
          key={r.entry}
          struck={r.struck}
          name={r.name}
          quantity={r.quantity}
          unit=""
          about={`${t("remove.taken")} · ${t(`fate.${r.fate}`)}${r.serial ? ` · ${t("parts.serialNo", { serial: r.serial })}` : ""}`}
        />
      ))}
      {extras.map((x) => (
        <Line key={x.entry} struck={x.struck} name={x.text} quantity={x.quantity} unit={x.unit ?? ""} about={tripText(t, x.trip) || t(`extra.${x.kind}`)}>
          {x.price === undefined ? <Tag kind="warn">{t("extra.officePrice")}</Tag> : price(x.price, currency)}
        </Line>
      ))}
      <Asked view={view} />
    </section>
  );
}

interface LineProps {
  struck?: boolean;
  name: string;
  quantity: string;
  unit: string;
  about: string;
  children?: React.ReactNode;
}

function Line({ struck, name, quantity, unit, about, children }: LineProps) {
  return (
    <p className={`line${struck ? " struck" : ""}`}>
      <span className="grow">
        {name} <span className="small quiet">{about}</span>
      </span>
      <span className="end nowrap">
        <b>{amount(quantity, unit)}</b> {children && <span className="small quiet block">{children}</span>}
      </span>
    </p>
  );
}

/** What is planned for the work order; the office adds to it and takes from it. */
function Planned({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [adding, setAdding] = useState(false);
  const planned = usePlannedParts(view.visit.order, view.order.needs);
  const may = planned.may;
  return (
    <>
      {view.needs.map((n) => {
        const mine = planned.own.find((x) => x.part === n.part);
        return (
          <p className="line" key={n.part}>
            <span className="grow">
              {n.name} <span className="small quiet">{t("needs.title")}</span>
            </span>
            <span className="end nowrap">
              {decimal(n.left).isZero() ? <Tag kind="good">{t("needs.used")}</Tag> : t("needs.planned", { quantity: amount(n.left, n.unit) })}
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
          <button type="button" className="link small" onClick={() => setAdding(true)}>
            {t("needs.add")}
          </button>
        </p>
      )}
      {adding && <FindPart title={t("needs.add")} onPick={(part) => planned.add(part, () => setAdding(false))} onClose={() => setAdding(false)} />}
      <Failure error={planned.error} />
    </>
  );
}

function Asked({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const asked = view.visit.requests ?? [];
  const open = useRequests(false).data ?? [];
  const over = useRequests(true).data ?? [];
  return asked.map((r) => {
    const line = [...open, ...over].find((l) => l.id === r.entry);
    return (
      <p className={`line${r.struck ? " struck" : ""}`} key={r.entry}>
        <span className="grow">
          {r.text} <span className="small quiet">{t("ask.asked")}</span>
        </span>
        <span className="end nowrap">
          <b>{r.quantity}</b> {line && <Link to="/office/stores">{t(`request.${line.request.state}`)}</Link>}
        </span>
      </p>
    );
  });
}
