import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { May } from "../../session/May";
import type { PurchaseItem, PurchaseLine, RequestRef } from "../../types";
import { decimal, isPositive, isQuantity, sum, typedNumber } from "../../ui/decimal";
import { Empty } from "../../ui/Empty";
import { price, quantity, shortDate, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { SideDrawer } from "../../ui/SideDrawer";
import { Answer, Failure, useCommands, useCurrency } from "../queries";
import { fileOf, usePurchases } from "./queries";
import { Reason } from "./Reason";

/** Orders to suppliers: what is to come, and what came. */
export function Purchases() {
  const { t } = useTranslation();
  const query = usePurchases();
  const currency = useCurrency();
  return (
    <section>
      <h2>{t("orders.title")}</h2>
      <Answer query={query}>
        {(lines) => (lines.length === 0 ? <Empty>{t("orders.none")}</Empty> : lines.map((l) => <Line key={l.id} line={l} currency={currency} />))}
      </Answer>
    </section>
  );
}

/** How much of a line has not come. */
const missing = (x: PurchaseItem) => {
  const left = decimal(x.quantity).minus(x.received ?? 0);
  return left.gt(0) ? left.toString() : "0";
};

const over = (l: PurchaseLine) => l.purchase.state === "received" || l.purchase.state === "cancelled";

function Line({ line: l, currency }: { line: PurchaseLine; currency: string }) {
  const { t } = useTranslation();
  const [doing, setDoing] = useState<"in" | "cancel">();
  const commands = useCommands();
  const p = l.purchase;
  const cost = sum(p.lines.map((x) => decimal(x.cost).times(x.quantity).toString()));
  const cancel = (reason: string) =>
    commands.mutate(
      [
        {
          kind: "purchase.cancelled",
          subject: { type: "purchase", id: l.id },
          body: { reason, requests: p.lines.flatMap((x) => (x.requests ?? []).map((r) => r.request)) },
        },
      ],
      { onSuccess: () => setDoing(undefined) },
    );
  return (
    <div className="purchase">
      <span>
        <b>{p.number}</b>
        <span className="small quiet block">{[l.personName, timeOrDay(p.at)].filter(Boolean).join(", ")}</span>
      </span>
      <span className="grow">
        <b>{l.supplier}</b> <span className="quiet">{price(cost.toString(), currency)}</span>
        <span className="small block">
          {p.lines
            .map(
              (x, i) =>
                `${quantity(x.quantity, l.parts[i].unit)} × ${l.parts[i].name}${decimal(x.received ?? 0).gt(0) && !over(l) ? ` (${t("orders.got", { quantity: x.received })})` : ""}`,
            )
            .join(", ")}
        </span>
      </span>
      <span>
        <Tag kind={p.state === "received" ? "good" : p.state === "cancelled" ? "bad" : "warn"}>{t(`purchase.${p.state}`)}</Tag>
        {p.due && !over(l) && <span className="small quiet block">{t("orders.due", { day: shortDate(p.due) })}</span>}
        {l.overdue && <Tag kind="bad">{t("orders.overdue")}</Tag>}
        {p.reason && <span className="small quiet block">{p.reason}</span>}
      </span>
      <span className="request-acts">
        {!over(l) && (
          <>
            <May right="purchase.received">
              <Button size="small" variant={p.state === "delivered" ? "contained" : "outlined"} onClick={() => setDoing("in")}>
                {t("orders.book")}
              </Button>
            </May>
            {p.lines.every((x) => decimal(x.received ?? 0).isZero()) && (
              <May right="purchase.cancelled">
                <Button size="small" variant="text" onClick={() => setDoing("cancel")}>
                  {t("orders.cancel")}
                </Button>
              </May>
            )}
          </>
        )}
        <a className="link small" href={fileOf("order.pdf", { id: l.id })} target="_blank" rel="noreferrer">
          PDF
        </a>
        <a className="link small" href={fileOf("order.csv", { id: l.id })}>
          CSV
        </a>
      </span>
      {doing === "cancel" && <Reason label={t("orders.why")} act={t("orders.cancel")} onReason={cancel} onClose={() => setDoing(undefined)} />}
      {doing === "in" && <BookIn line={l} onClose={() => setDoing(undefined)} />}
      <Failure error={commands.error} />
    </div>
  );
}

/** Books in what came. What was ordered for a request is kept for its work order, as far as it goes. */
function BookIn({ line: l, onClose }: { line: PurchaseLine; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const p = l.purchase;
  const [came, setCame] = useState(() => p.lines.map((x) => missing(x)));
  const fine = came.every(isQuantity) && came.some(isPositive);
  const book = () => {
    const lines = p.lines.map((x, i) => ({ part: x.part, quantity: typedNumber(came[i]) })).filter((x) => isPositive(x.quantity));
    const served = p.lines.flatMap((x, i) =>
      serve(x.requests ?? [], x.received ?? "0", typedNumber(came[i])).flatMap((r) => (r.order ? [{ ...r, order: r.order, part: x.part }] : [])),
    );
    commands.mutate([{ kind: "purchase.received", subject: { type: "purchase", id: l.id }, body: { place: p.place, lines, served } }], { onSuccess: onClose });
  };
  return (
    <SideDrawer title={t("orders.bookTitle", { number: p.number })} about={t("orders.bookHint", { place: l.placeName })} onClose={onClose}>
      {p.lines.map((x, i) => (
        <div className="line" key={x.part}>
          <span className="grow">
            {l.parts[i].name}
            <span className="small quiet block">
              {l.parts[i].number}
              {(x.requests?.length ?? 0) > 0 && ` · ${t("orders.forRequests", { count: x.requests?.length })}`}
            </span>
          </span>
          <TextField
            className="take-quantity"
            label={t("orders.came", { quantity: x.quantity, unit: l.parts[i].unit })}
            value={came[i]}
            onChange={(e) => setCame(came.with(i, e.target.value))}
          />
        </div>
      ))}
      <Button variant="contained" disabled={!fine || commands.isPending} onClick={book}>
        {t("orders.book")}
      </Button>
      <Failure error={commands.error} />
    </SideDrawer>
  );
}

/** Which requests are served by what came, in the order they were asked: each in whole, after those that were served before. */
export function serve(requests: RequestRef[], before: string, came: string): RequestRef[] {
  const all = decimal(before).plus(came);
  let asked = decimal(0);
  return requests.filter((r) => {
    asked = asked.plus(r.quantity);
    return asked.gt(before) && asked.lte(all);
  });
}
