import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Concern } from "../../types";
import { Tag } from "../../ui/Glyph";
import { ConcernLine } from "../checks/AttentionList";
import { useAttention } from "../queries";

/** What needs a visit, though no work order was opened for it: hazards, alarms, what failed, what follows, and what a customer took of a recommendation. */
const callsFor: Concern[] = ["hazard", "alarm", "failed", "follow_up"];

/** How many are listed here: the rest is where everything is that wants attention. */
const most = 20;

/** Findings that call for work, each with the way to open it: then it is to be placed. */
export function CallsForWork() {
  const { t } = useTranslation();
  const lines = (useAttention(false).data ?? []).filter((l) => callsFor.includes(l.concern));
  if (lines.length === 0) return null;
  return (
    <details className="calls-for-work">
      <summary>
        <Tag kind="warn">{t("board.calls", { count: lines.length })}</Tag>
      </summary>
      <ul className="calls">
        {lines.slice(0, most).map((l) => (
          <li key={l.visit + l.key}>
            <ConcernLine line={l} />
          </li>
        ))}
      </ul>
      {lines.length > most && <Link to="/office/review/attention">{t("board.callsMore", { count: lines.length - most })}</Link>}
    </details>
  );
}
