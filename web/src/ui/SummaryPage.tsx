import { useTranslation } from "react-i18next";
import type { Summary, SummaryLine } from "../types";
import { duration, longDate, momentOf, quantity, time } from "./format";
import { kinds } from "./HoursByKind";
import { markWord } from "./SummaryChanges";

/** What a signature stands for, as the signer was shown it. */
export function SummaryPage({ summary: s }: { summary: Summary }) {
  const { t } = useTranslation();
  return (
    <dl className="summary">
      <dt>{t("visit.order", { number: s.order })}</dt>
      <dd>
        {s.customer}, {s.site}
        {s.asset && ` · ${s.asset}`}
      </dd>
      <dt>{t("sign.problem")}</dt>
      <dd className="pre">{s.problem}</dd>
      {s.outcome && (
        <>
          <dt>{t("review.outcome")}</dt>
          <dd>{t(`outcome.${s.outcome as "complete"}`)}</dd>
        </>
      )}
      <dt>{t(s.day ? "sign.dayTime" : "sign.time")}</dt>
      <dd>
        {kinds
          .filter((k) => (s.hours[k] ?? 0) > 0)
          .map((k) => `${t(`clock.${k}`)} ${duration(s.hours[k] ?? 0)}`)
          .join(" · ") || t("sign.nothing")}
        <span className="small quiet block">
          {s.person}, {s.day ? longDate(momentOf(s.day, "12:00")) : `${longDate(s.until)} ${time(s.until)}`}
        </span>
      </dd>
      <Lines title={t("visit.tasks")} lines={s.tasks ?? []} hide />
      <Lines title={t("visit.parts")} lines={s.parts} />
      <Lines title={t("visit.readings")} lines={s.readings} />
      <Lines title={t("visit.checks")} lines={s.answers} />
      <Lines title={t("summary.advice")} lines={s.advice ?? []} hide />
      <dt>{t("visit.notes")}</dt>
      <dd>
        {s.notes.length === 0
          ? t("sign.nothing")
          : s.notes.map((n) => (
              <p key={n} className="pre">
                {n}
              </p>
            ))}
      </dd>
    </dl>
  );
}

function Lines({ title, lines, hide }: { title: string; lines: SummaryLine[]; hide?: boolean }) {
  const { t } = useTranslation();
  if (hide && lines.length === 0) return null;
  const word = (l: SummaryLine) => (l.value === "yes" ? t("checks.yes") : l.value === "no" ? t("checks.no") : quantity(l.value, l.unit));
  return (
    <>
      <dt>{title}</dt>
      <dd>
        {lines.length === 0
          ? t("sign.nothing")
          : lines.map((l, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the lines of a summary never change
              <span className="block" key={i}>
                {l.name}
                {l.value && (
                  <>
                    : <b>{word(l)}</b>
                  </>
                )}
                {l.mark && ` (${markWord(l, t)})`}
                {l.price && <span className="quiet"> {l.price}</span>}
              </span>
            ))}
      </dd>
    </>
  );
}
