import { useTranslation } from "react-i18next";
import type { Level, SummaryChange, SummaryLine } from "../types";
import type { Word } from "../words/i18n";
import { duration } from "./format";

/** What is different since somebody signed, line by line: as it was, and as it is. */
export function SummaryChanges({ changes }: { changes: SummaryChange[] }) {
  const { t } = useTranslation();
  if (changes.length === 0) return null;
  return (
    <details className="changes">
      <summary>
        {t("sign.changed")} · {t("sign.changes", { count: changes.length })}
      </summary>
      <ul>
        {changes.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the changes of a signature have no other name than their place
          <li key={i}>
            <span className="tiny quiet block">{t(`summary.${c.part}` as Word)}</span>
            {c.was && <del>{text(c.part, c.was, t)}</del>} {c.is && <ins>{text(c.part, c.is, t)}</ins>}
          </li>
        ))}
      </ul>
    </details>
  );
}

type Say = (key: Word, args?: Record<string, unknown>) => string;

function text(part: SummaryChange["part"], l: SummaryLine, say: unknown): string {
  const t = say as Say;
  if (part === "hours") return `${t(`clock.${l.name}` as Word)} ${duration(Number(l.value))}`;
  if (part === "outcome") return l.value ? t(`outcome.${l.value}` as Word) : t("sign.nothing");
  if (part === "work") return l.value || t("sign.nothing");
  const value = l.value === "yes" || l.value === "no" ? t(`checks.${l.value}`) : l.value;
  return [l.name, value && `${value}${l.unit ? ` ${l.unit}` : ""}`, l.mark && `(${markWord(l, t)})`, l.price].filter(Boolean).join(" · ");
}

/** What a mark on a line of a summary says. */
export function markWord(l: SummaryLine, t: unknown): string {
  const say = t as Say;
  if (l.mark === "removed") return say("remove.taken");
  if (l.mark === "done" || l.mark === "held") return say(l.mark === "done" ? "tasks.done" : "tasks.onHold");
  if (l.mark === "accepted" || l.mark === "declined") return say(`answer.${l.mark}`);
  return say(`level.${l.mark as Level}` as Word);
}
