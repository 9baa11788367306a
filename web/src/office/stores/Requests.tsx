import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { May } from "../../session/May";
import type { EntryBodies, EntryKind, RequestLine } from "../../types";
import { decimal } from "../../ui/decimal";
import { Empty } from "../../ui/Empty";
import { price, quantity, shortDate, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Answer, Failure, useCommands, useCurrency } from "../queries";
import { purchasesOf, type ToBuy } from "./buy";
import { FindPart } from "./FindPart";
import { useRequests } from "./queries";
import { Reason } from "./Reason";

/** What was asked for in the field, the oldest first, and what can be done about it. */
export function Requests() {
  const { t } = useTranslation();
  const [over, setOver] = useState(false);
  const query = useRequests(over);
  return (
    <section>
      <h2>
        {t("requests.title")}{" "}
        <button type="button" className="link small" aria-pressed={over} onClick={() => setOver(!over)}>
          {t(over ? "requests.showOpen" : "requests.showOver")}
        </button>
      </h2>
      <Answer query={query}>
        {(lines) =>
          lines.length === 0 ? (
            <Empty>{t(over ? "requests.noneOver" : "requests.none")}</Empty>
          ) : (
            <>
              {!over && <OrderAll lines={lines} />}
              <ol className="requests">
                {lines.map((l) => (
                  <li key={l.id}>
                    <Line line={l} />
                  </li>
                ))}
              </ol>
            </>
          )
        }
      </Answer>
    </section>
  );
}

/** Whether it can be ordered now: the part is known, nobody need be asked, and there is none to keep. */
const ripe = (l: RequestLine) => {
  const r = l.request;
  return !!r.part && (r.state === "approved" || (r.state === "asked" && !r.approval)) && decimal(l.there).lt(r.quantity);
};

const toBuy = (l: RequestLine): ToBuy => ({
  part: l.request.part!,
  quantity: l.request.quantity,
  cost: l.cost,
  supplier: l.supplier || "other",
  request: { id: l.id, order: l.request.order ?? "" },
});

/** Orders what some requests ask for, at one press. */
function useOrdering(commands: ReturnType<typeof useCommands>, lines: RequestLine[]) {
  return () => commands.mutate(purchasesOf(lines.map(toBuy), lines[0].store ?? "", commands.idOf));
}

function OrderAll({ lines }: { lines: RequestLine[] }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const all = lines.filter(ripe);
  const order = useOrdering(commands, all);
  if (all.length < 2) return null;
  return (
    <p className="stores-bar">
      <May right="purchase.made">
        <Button variant="contained" disabled={commands.isPending} onClick={order}>
          {t("requests.orderAll", { count: all.length })}
        </Button>
      </May>
      <Failure error={commands.error} />
    </p>
  );
}

function Line({ line: l }: { line: RequestLine }) {
  const { t } = useTranslation();
  const r = l.request;
  return (
    <div className="request">
      <span className={`request-age${l.long ? " long" : ""}`}>
        <b>{l.days === 0 ? t("requests.today") : t("requests.days", { count: l.days })}</b>
        <span className="tiny block">{timeOrDay(r.at)}</span>
        {l.long && <Tag kind="bad">{t("requests.long")}</Tag>}
      </span>
      <span className="grow">
        <b>
          {quantity(r.quantity, l.unit)} × {l.partName ?? r.text}
        </b>
        {l.partName && l.partName !== r.text && <span className="small block">“{r.text}”</span>}
        {r.note && <span className="pre small block">{r.note}</span>}
        <span className="small quiet block">
          <Link to={`/office/visits/${r.visit}`}>{l.number}</Link> · {l.site} · {l.customer} · {l.personName}
        </span>
        {l.photos.map((h) => (
          <a key={h} href={`/api/files/${h}`} target="_blank" rel="noreferrer">
            <img className="request-photo" src={`/api/files/${h}?thumb`} alt={t("requests.photo")} loading="lazy" />
          </a>
        ))}
      </span>
      <span className="request-state">
        <State line={l} />
      </span>
      <May right="request.approved">
        <Acts line={l} />
      </May>
    </div>
  );
}

function State({ line: l }: { line: RequestLine }) {
  const { t } = useTranslation();
  const { state, approval, steps } = l.request;
  const last = steps?.at(-1);
  if (state === "asked" && approval) return <Tag kind="warn">{t("requests.askCustomer")}</Tag>;
  return (
    <>
      <Tag kind={state === "in" ? "good" : state === "declined" || state === "withdrawn" ? "bad" : "warn"}>{t(`request.${state}`)}</Tag>
      {state === "ordered" && (
        <span className="tiny quiet block">{t("requests.on", { number: l.purchase, due: l.due ? shortDate(l.due) : t("requests.noDue") })}</span>
      )}
      {last?.reason && <span className="tiny quiet block">{last.reason}</span>}
    </>
  );
}

function Acts({ line: l }: { line: RequestLine }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const currency = useCurrency();
  const [naming, setNaming] = useState(false);
  const order = useOrdering(commands, [l]);
  const [declining, setDeclining] = useState(false);
  const r = l.request;
  const subject = { type: "request", id: l.id };
  const say = <K extends EntryKind>(kind: K, body: EntryBodies[K]) => ({ kind, subject, body });
  if (r.state !== "asked" && r.state !== "approved") return <span className="request-acts" />;
  const unasked = r.approval && r.state === "asked";
  const keep = r.order && r.part && l.store ? { request: l.id, order: r.order, part: r.part, quantity: r.quantity, place: l.store } : undefined;
  return (
    <span className="request-acts">
      {unasked && (
        <>
          {l.phone && (
            <a className="link small" href={`tel:${l.phone.replaceAll(" ", "")}`}>
              {l.phone}
            </a>
          )}
          <Button size="small" variant="contained" onClick={() => commands.mutate([say("request.approved", { customer: true })])}>
            {t("requests.approve")}
          </Button>
        </>
      )}
      <Button size="small" onClick={() => setNaming(true)}>
        {t(r.part ? "requests.other" : "requests.which")}
      </Button>
      {keep && !unasked && decimal(l.there).gte(r.quantity) && (
        <Button size="small" variant="contained" disabled={commands.isPending} onClick={() => commands.mutate([say("request.reserved", keep)])}>
          {t("requests.keep", { there: l.there })}
        </Button>
      )}
      {r.part && !unasked && (
        <Button size="small" variant={ripe(l) ? "contained" : "outlined"} disabled={commands.isPending} onClick={order}>
          {t("requests.order", { price: price(l.cost, currency) })}
        </Button>
      )}
      <Button size="small" variant="text" onClick={() => setDeclining(true)}>
        {t(unasked ? "requests.customerDeclines" : "requests.decline")}
      </Button>
      {naming && (
        <FindPart
          title={t("requests.whichTitle", { what: r.text })}
          onPick={(part) => commands.mutate([say("request.named", { part, quantity: r.quantity })], { onSuccess: () => setNaming(false) })}
          onClose={() => setNaming(false)}
        />
      )}
      {declining && (
        <Reason
          label={t("requests.whyNot")}
          act={t("requests.decline")}
          onReason={(reason) =>
            commands.mutate([say("request.declined", { reason, customer: unasked || undefined })], { onSuccess: () => setDeclining(false) })
          }
          onClose={() => setDeclining(false)}
        />
      )}
      <Failure error={commands.error} />
    </span>
  );
}
