import { DialogContent } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Paid, Why } from "../types";
import { say } from "../words/i18n";
import { duration } from "./format";
import { LayerDialog } from "./Layers";

const figures = ["normal", "overtime", "double", "unpaid"] as const;

/** A duration with its sign, as a rule adds it or takes it away. */
const signed = (seconds: number) => `${seconds < 0 ? "−" : "+"}${duration(Math.abs(seconds))}`;

/** What a day is paid as. Tapping the figures shows which stamps and rules made them. */
export function PaidFigures({ paid, names }: { paid: Paid; names: (entry: string) => string | undefined }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="paid" onClick={() => setOpen(true)} aria-label={t("paid.why")}>
        <span>
          <span className="small quiet block">{t("paid.total")}</span>
          <b data-seconds={paid.normal + paid.overtime + paid.double}>{duration(paid.normal + paid.overtime + paid.double)}</b>
        </span>
        {figures
          .filter((f) => f !== "normal" && paid[f] > 0)
          .map((f) => (
            <span key={f}>
              <span className="small quiet block">{t(`paid.${f}`)}</span>
              <b data-seconds={paid[f]}>{duration(paid[f])}</b>
            </span>
          ))}
        <span className="paid-why small">{t("paid.whyShort")}</span>
      </button>
      {open && (
        <LayerDialog onClose={() => setOpen(false)} aria-labelledby="paid-why">
          <DialogContent className="why">
            <h2 id="paid-why">{t("paid.why")}</h2>
            <WhyList why={paid.why} names={names} />
            <p className="line">
              <span className="grow strong">{t("paid.total")}</span>
              <b className="end">{duration(paid.normal + paid.overtime + paid.double)}</b>
            </p>
            <button type="button" className="link" onClick={() => setOpen(false)}>
              {t("photos.close")}
            </button>
          </DialogContent>
        </LayerDialog>
      )}
    </>
  );
}

/** The classes of pay move time, and do not change the sum. */
const moves = /^(pay\.(overtime|double|overtime_week|rest_day|holiday))$/;

export function WhyList({ why, names }: { why: Why[]; names: (entry: string) => string | undefined }) {
  const { t } = useTranslation();
  return why.map((w, i) => {
    const stamps = [...new Set(w.entries?.map(names).filter(Boolean))];
    return (
      // biome-ignore lint/suspicious/noArrayIndexKey: a rule may speak twice
      <p className="line" key={i}>
        <span className="grow">
          {say(w)}
          {stamps.length > 0 && <span className="small quiet block">{t("paid.stamps", { times: stamps.join(", ") })}</span>}
        </span>
        <span className="end">{i === 0 || moves.test(w.code) ? duration(w.seconds) : signed(w.seconds)}</span>
      </p>
    );
  });
}
