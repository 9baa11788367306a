import { useTranslation } from "react-i18next";
import type { Level, Summary, SummaryLine } from "../types";
import { duration, longDate, time } from "./format";
import { kinds } from "./HoursByKind";

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
      <dt>{t("sign.time")}</dt>
      <dd>
        {kinds
          .filter((k) => (s.hours[k] ?? 0) > 0)
          .map((k) => `${t(`clock.${k}`)} ${duration(s.hours[k] ?? 0)}`)
          .join(" · ") || t("sign.nothing")}
        <span className="small quiet block">
          {s.person}, {longDate(s.until)} {time(s.until)}
        </span>
      </dd>
      <Lines title={t("visit.parts")} lines={s.parts} />
      <Lines title={t("visit.readings")} lines={s.readings} />
      <Lines title={t("visit.checks")} lines={s.answers} />
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

function Lines({ title, lines }: { title: string; lines: SummaryLine[] }) {
  const { t } = useTranslation();
  const word = (l: SummaryLine) => (l.value === "yes" ? t("checks.yes") : l.value === "no" ? t("checks.no") : l.value);
  return (
    <>
      <dt>{title}</dt>
      <dd>
        {lines.length === 0
          ? t("sign.nothing")
          : lines.map((l, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the lines of a summary never change
              <span className="block" key={i}>
                {l.name}: <b>{word(l)}</b> {l.unit}
                {l.mark && ` (${l.mark === "removed" ? t("remove.taken") : t(`level.${l.mark as Level}`)})`}
              </span>
            ))}
      </dd>
    </>
  );
}
