import { useTranslation } from "react-i18next";
import type { Talk } from "../types";
import { timeOrDay } from "./format";

/** A conversation: what was said by whom and when, in order of time; one's own side at the right. */
export function Said({ talk, names, mine }: { talk: Talk; names: Record<string, string>; mine: (s: Talk["said"][number]) => boolean }) {
  const { t } = useTranslation();
  if (talk.said.length === 0) return <p className="quiet small">{t("talk.none")}</p>;
  return (
    <ol className="said">
      {talk.said.map((s) => (
        <li key={s.entry} className={mine(s) ? "mine" : undefined}>
          <span className="tiny quiet block">
            {names[s.person] ?? s.person}
            {s.office && `, ${t("talk.office")}`} · {timeOrDay(s.at)}
          </span>
          <span className="pre">{s.text}</span>
        </li>
      ))}
    </ol>
  );
}
