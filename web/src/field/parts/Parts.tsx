/** Parts of a visit: what is planned, what was used and taken out, what else is charged, what was asked for. */

import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import type { NeedLine, VisitView } from "../../types";
import { price } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { isLater } from "../../ui/later";
import { tripText } from "../../ui/trip";
import { useWedge } from "../../ui/wedge";
import { useCurrency, useDevice } from "../device";
import { StrikeOut } from "../visit/StrikeOut";
import { VisitSection } from "../visit/VisitSection";
import { AddExtra } from "./AddExtra";
import { AddParts } from "./AddParts";
import { AskForPart } from "./AskForPart";
import { Needs } from "./Needs";
import { RemovePart } from "./RemovePart";
import { useStock } from "./Where";

type Doing = { what: "find" | "scan" | "remove" | "request" | "extra"; code?: string; need?: NeedLine };

export function Parts({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const [doing, setDoing] = useState<Doing>();
  const close = () => setDoing(undefined);
  useWedge((code) => !doing && setDoing({ what: "find", code }));
  const empty = view.parts.length + view.kits.length + view.removed.length + (view.visit.extras?.length ?? 0) === 0;
  return (
    <VisitSection id="parts" title={t("visit.parts")}>
      {!me.person.van && <p className="quiet small">{t("parts.noVan")}</p>}
      <Needs view={view} onUse={(need) => setDoing({ what: "find", need })} />
      {empty && <p className="quiet small">{t("parts.none")}</p>}
      <Used view={view} />
      <Removed view={view} />
      <Extras view={view} />
      <Requests view={view} />
      <span className="chips part-acts">
        <button type="button" className="chip strong" onClick={() => setDoing({ what: "scan" })}>
          {t("parts.scan")}
        </button>
        {(["find", "remove", "request", "extra"] as const).map((what) => (
          <button type="button" className="chip" key={what} onClick={() => setDoing({ what })}>
            {t(`parts.do_${what}`)}
          </button>
        ))}
      </span>
      {(doing?.what === "find" || doing?.what === "scan") && (
        <AddParts
          view={view}
          scanning={doing.what === "scan"}
          code={doing.code}
          need={doing.need}
          onUnknown={(what, code) => setDoing({ what, code })}
          onClose={close}
        />
      )}
      {doing?.what === "remove" && <RemovePart view={view} onClose={close} />}
      {doing?.what === "request" && <AskForPart view={view} what={doing.code ?? ""} onClose={close} />}
      {doing?.what === "extra" && <AddExtra view={view} what={doing.code ?? ""} onClose={close} />}
    </VisitSection>
  );
}

function Used({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const stock = useStock(me.person.van);
  return (
    <>
      {view.kits.map((k) => (
        <div className="line" key={k.entry}>
          <span className={`grow${k.struck ? " struck" : ""}`}>
            {k.name}
            <span className="tiny quiet block">
              {t("sheet.kit")} · {k.lines.map((l) => `${l.quantity} × ${l.name}`).join(", ")}
              {k.labour && ` · ${t("kit.done", { count: k.labour.minutes, name: view.names[k.labour.person] ?? k.labour.person })}`}
            </span>
          </span>
          <span className="end">
            <b>{k.quantity}</b>
          </span>
          <StrikeOut view={view} line={k} kind="kit.used" />
        </div>
      ))}
      {view.parts.map((p) => (
        <div className="line" key={p.entry}>
          <span className={`grow${p.struck ? " struck" : ""}`}>
            {p.name}
            <span className="tiny quiet block">
              {p.number}
              {p.serial && ` · ${t("parts.serialNo", { serial: p.serial })}`}
              {p.as && ` · ${p.as.quantity} ${p.as.unit}`}
              {isLater(view, p.at) && ` · ${t("page.later")}`}
            </span>
            {view.ready.lacking.some((l) => l.key === `serial ${p.entry}`) && <Tag kind="warn">{t("parts.noSerial")}</Tag>}
          </span>
          <span className={`end${p.struck ? " struck" : ""}`}>
            <b>{p.quantity}</b> {p.unit !== "each" && p.unit}
            {!p.struck && p.place === me.person.van && (
              <span className="tiny quiet block">{t("parts.left", { quantity: stock?.lines[p.part]?.balance ?? "0" })}</span>
            )}
          </span>
          <StrikeOut view={view} line={p} kind="part.used" />
        </div>
      ))}
    </>
  );
}

function Removed({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  return view.removed.map((r) => (
    <div className="line" key={r.entry}>
      <span className={`grow${r.struck ? " struck" : ""}`}>
        {r.name}
        <span className="tiny quiet block">
          {t("remove.taken")} · {t(`fate.${r.fate}`)}
          {r.serial && ` · ${t("parts.serialNo", { serial: r.serial })}`}
        </span>
      </span>
      <span className="end">
        <b>{r.quantity}</b>
      </span>
      <StrikeOut view={view} line={r} kind="part.removed" />
    </div>
  ));
}

function Extras({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const currency = useCurrency();
  return view.visit.extras?.map((x) => (
    <div className="line" key={x.entry}>
      <span className={`grow${x.struck ? " struck" : ""}`}>
        {x.text}
        <span className="tiny quiet block">
          {x.trip ? tripText(t, x.trip) : t(`extra.${x.kind}`)} ·{" "}
          {x.price === undefined ? t("extra.officePrice") : t("sheet.each", { price: price(x.price, currency) })}
        </span>
      </span>
      <span className={`end${x.struck ? " struck" : ""}`}>
        <b>{x.quantity}</b> {x.unit}
      </span>
      <StrikeOut view={view} line={x} kind="extra.added" />
    </div>
  ));
}

function Requests({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const asked = view.visit.requests ?? [];
  const docs = useLive(db, (db) => Promise.all(asked.map((r) => db.body("request", r.entry))), [view]) ?? [];
  return asked.map((r, i) => (
    <div className="line" key={r.entry}>
      <span className={`grow${r.struck ? " struck" : ""}`}>
        {r.text}
        <span className="tiny quiet block">{t("ask.asked")}</span>
        {!r.struck && (
          <Tag kind={docs[i]?.state === "in" ? "good" : docs[i]?.state === "declined" ? "bad" : "warn"}>{t(`request.${docs[i]?.state ?? "asked"}`)}</Tag>
        )}
      </span>
      <span className="end">
        <b>{r.quantity}</b>
      </span>
      <StrikeOut view={view} line={r} kind="part.requested" />
    </div>
  ));
}
