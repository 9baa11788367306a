import { DialogContent } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { BillLine, VisitView } from "../../types";
import { duration, price, time } from "../../ui/format";
import { HoursByKind } from "../../ui/HoursByKind";
import { LayerDialog } from "../../ui/Layers";
import { WhyList } from "../../ui/PaidFigures";
import { useCurrency, useSettings } from "../queries";

/** The time that went to a visit, by person, and what it is billed as. */
export function Hours({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const currency = useCurrency();
  const sorts = useSettings().data?.time.sorts ?? [];
  const [asked, setAsked] = useState<BillLine>();
  const tapped = (entry: string) => {
    const span = view.crew.flatMap((c) => c.spans).find((s) => s.from === entry);
    return span && time(span.start);
  };
  return (
    <section className="sec" aria-label={t("page.hours")}>
      <h2>{t("page.hours")}</h2>
      <HoursByKind hours={view.hours} />
      {view.crew.map((c) => (
        <p className="small quiet" key={c.person}>
          {view.crew.length > 1 && <b>{view.names[c.person]} </b>}
          {c.spans
            .map((s) => {
              const said = [sorts.find((x) => x.id === s.sort)?.text ?? s.sort, s.text].filter(Boolean).join(", ");
              return `${t(`clock.${s.kind}`)} ${time(s.start)}–${s.open ? "…" : time(s.end)}${said && ` (${said})`}`;
            })
            .join(" · ")}
        </p>
      ))}
      {view.bill.lines.map((l) => (
        <button type="button" className="line line-button" key={l.person + l.class} onClick={() => setAsked(l)} aria-label={t("bill.why")}>
          <span className="grow">
            {t("bill.line", { name: view.names[l.person] ?? l.person, time: duration(l.billed), rate: price(l.hour, currency) })}
            <span className="small quiet"> {t(`class.${l.class}`)}</span>
          </span>
          <span className="end">{price(l.amount, currency)}</span>
        </button>
      ))}
      {view.bill.lines.length > 0 && (
        <p className="line">
          <span className="grow">
            <b>{t("bill.total")}</b> <span className="small quiet">{t("bill.allowance", { amount: price(view.bill.allowance, currency) })}</span>
          </span>
          <b className="end">{price(view.bill.total, currency)}</b>
        </p>
      )}
      {asked && (
        <LayerDialog onClose={() => setAsked(undefined)}>
          <DialogContent className="why">
            <h2>{t("bill.why")}</h2>
            <WhyList why={asked.why} names={tapped} />
            <p className="line">
              <span className="grow">{t("bill.times", { time: duration(asked.billed), rate: price(asked.hour, currency) })}</span>
              <b className="end">{price(asked.amount, currency)}</b>
            </p>
          </DialogContent>
        </LayerDialog>
      )}
    </section>
  );
}
