import { Button } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { paperOf } from "../../device/report";
import type { Layout, VisitReport, VisitView } from "../../types";
import { bytes, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { say } from "../../words/i18n";
import { problemOf, useDevice } from "../device";
import { useAsked } from "../useAsked";
import { StrikeOut } from "../visit/StrikeOut";
import { VisitSection } from "../visit/VisitSection";

const MakeReport = lazy(() => import("./MakeReport"));
const SendReport = lazy(() => import("./SendReport"));

/** The service reports of the visit: made here with or without signal, each version kept. */
export function Reports({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [making, setMaking] = useState(false);
  useAsked("report", () => setMaking(true)); // by the dock
  const reports = view.visit.reports ?? [];
  return (
    <VisitSection id="report" title={t("report.title")}>
      {reports.length === 0 && <p className="quiet small">{t("report.none")}</p>}
      {reports.map((r) => (
        <Line key={r.entry} view={view} report={r} latest={r === reports.at(-1)} />
      ))}
      <Button variant="outlined" className="wide-button" onClick={() => setMaking(true)}>
        {t(reports.length > 0 ? "report.again" : "report.make")}
      </Button>
      <Suspense fallback={null}>{making && <MakeReport view={view} onClose={() => setMaking(false)} />}</Suspense>
    </VisitSection>
  );
}

function Line({ view, report: r, latest }: { view: VisitView; report: VisitReport; latest: boolean }) {
  const { t } = useTranslation();
  const { db, tell } = useDevice();
  const [sending, setSending] = useState(false);
  const sent = (view.visit.messages ?? []).filter((m) => m.report === r.entry);
  const open = async (share: boolean) => {
    // The window opens with the tap, or the browser would not let it.
    const shown = share ? null : window.open("", "_blank");
    try {
      const pdf = await paperOf(db, r.entry, r.pdf);
      const file = new File([pdf], `report-${view.order.number}.pdf`, { type: "application/pdf" });
      if (share && navigator.canShare?.({ files: [file] })) await navigator.share({ files: [file], title: t("report.title") });
      else {
        const url = URL.createObjectURL(file);
        if (shown) shown.location.href = url;
        else save(url, file.name);
        setTimeout(() => URL.revokeObjectURL(url), 60_000);
      }
    } catch (e) {
      shown?.close();
      if ((e as DOMException).name !== "AbortError") tell(say(problemOf(e)));
    }
  };
  return (
    <div className="report-line">
      <p className="line">
        <span className={`grow${r.struck ? " struck" : ""}`}>
          {t(`layout.${r.layout as Layout}`)} · {timeOrDay(r.at)}
          {!latest && <span className="small quiet"> · {t("report.earlier")}</span>}
          <span className="tiny quiet block">
            {t("report.code", { code: r.code })} · {bytes(r.size)} · {view.names[r.person] ?? r.person}
          </span>
          {sent.map((m) => (
            <Tag kind="good" key={m.entry}>
              {t("report.sentTo", { to: m.to })}
            </Tag>
          ))}
        </span>
        <StrikeOut view={view} line={r} kind="report.made" />
      </p>
      {!r.struck && (
        <span className="further">
          <button type="button" className="chip" onClick={() => void open(false)}>
            {t("report.show")}
          </button>
          <button type="button" className="chip" onClick={() => void open(true)}>
            {t("report.share")}
          </button>
          <button type="button" className="chip" onClick={() => setSending(true)}>
            {t("report.send")}
          </button>
        </span>
      )}
      <Suspense fallback={null}>{sending && <SendReport view={view} report={r.entry} onClose={() => setSending(false)} />}</Suspense>
    </div>
  );
}

function save(url: string, name: string) {
  const a = document.createElement("a");
  a.href = url;
  a.download = name;
  a.click();
}
