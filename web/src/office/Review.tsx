import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { FinishedLine } from "../types";
import { Empty } from "../ui/Empty";
import { duration, timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { AttentionList } from "./checks/AttentionList";
import { Look } from "./Look";
import { Answer, useFinished } from "./queries";

/** What somebody must look at, and finished visits as they arrive. */
export function Review() {
  const { t } = useTranslation();
  const finished = useFinished();
  return (
    <main className="review">
      <h1 className="visually-hidden">{t("office.review")}</h1>
      <AttentionList />
      <Look />
      <h2>{t("review.title")}</h2>
      <Answer query={finished}>{(lines) => (lines.length === 0 ? <Empty>{t("review.none")}</Empty> : <Finished lines={lines} />)}</Answer>
    </main>
  );
}

function Finished({ lines }: { lines: FinishedLine[] }) {
  const { t } = useTranslation();
  return (
    <table className="table">
      <thead>
        <tr>
          <th>{t("review.site")}</th>
          <th>{t("review.who")}</th>
          <th>{t("review.ended")}</th>
          <th>{t("review.hours")}</th>
          <th>{t("review.outcome")}</th>
          <th>{t("review.look")}</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((l) => (
          <tr key={l.id}>
            <td>
              <Link to={`/office/visits/${l.id}`} className="strong">
                {l.site}
              </Link>
              <span className="small quiet block">
                {l.number} · {l.problem}
              </span>
            </td>
            <td>{l.technician}</td>
            <td className="nowrap">{timeOrDay(l.ended)}</td>
            <td className="nowrap">
              {duration(l.travel)} + {duration(l.work)}
            </td>
            <td>{t(`outcome.${l.outcome}`)}</td>
            <td>
              <Exceptions line={l} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Exceptions({ line: l }: { line: FinishedLine }) {
  const { t } = useTranslation();
  const unsigned = !l.signed;
  const missing = l.missing - (unsigned ? 1 : 0);
  if (!unsigned && !l.changed && missing <= 0 && l.flags === 0) return <span className="quiet">{t("review.fine")}</span>;
  return (
    <span className="exceptions">
      {unsigned && <Tag kind="warn">{t("review.unsigned")}</Tag>}
      {l.changed && <Tag kind="warn">{t("sign.changed")}</Tag>}
      {missing > 0 && <Tag kind="warn">{t("review.missing", { count: missing })}</Tag>}
      {l.flags > 0 && <Tag kind="bad">{t("review.flags", { count: l.flags })}</Tag>}
    </span>
  );
}
