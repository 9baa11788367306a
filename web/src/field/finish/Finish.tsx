import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { timeOrDay } from "../../ui/format";
import { HoursByKind } from "../../ui/HoursByKind";
import { StrikeOut } from "../visit/StrikeOut";
import { VisitSection } from "../visit/VisitSection";
import { ReadyList } from "./ReadyList";
import { Reports } from "./Reports";
import { Signatures } from "./Signatures";

/** How the visit is left: what still keeps it from being complete, who signed, the report. */
export function Finish({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  return (
    <>
      <VisitSection id="finish" title={t("ready.title")} end={t("ready.share", { done: view.ready.done, of: view.ready.of })}>
        <ReadyList view={view} />
        <HoursByKind hours={view.hours} />
        <Steps view={view} />
      </VisitSection>
      <Signatures view={view} />
      <Reports view={view} />
    </>
  );
}

function Steps({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const steps = view.visit.steps ?? [];
  if (steps.length === 0) return null;
  return (
    <details className="earlier">
      <summary>{t("ready.tapped", { count: steps.length })}</summary>
      {steps.map((s) => (
        <div className="line" key={s.entry}>
          <span className={`grow${s.struck ? " struck" : ""}`}>
            {s.action === "started_task" ? t("entry.task.started") : t(`entry.visit.${s.action}`)}
            {s.outcome && ` · ${t(`outcome.${s.outcome}`)}`}
            {s.task && ` · ${view.tasks.find((x) => x.id === s.task)?.name ?? ""}`} <span className="small quiet">{timeOrDay(s.at)}</span>
          </span>
          <StrikeOut view={view} line={{ ...s, person: s.by ?? s.person }} kind={s.action === "started_task" ? "task.started" : `visit.${s.action}`} />
        </div>
      ))}
    </details>
  );
}
