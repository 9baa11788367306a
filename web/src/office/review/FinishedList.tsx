import { useTranslation } from "react-i18next";
import type { FinishedLine } from "../../types";
import { Empty } from "../../ui/Empty";
import { duration, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { Answer, useFinished } from "../queries";
import { Exceptions } from "./Exceptions";
import { VisitCell } from "./VisitCell";

/** Finished visits as they arrive, those with something to look at first. */
export function FinishedList() {
  const { t } = useTranslation();
  const finished = useFinished();
  return (
    <>
      <PageHead title={t("review.title")} hint={t("review.hint")} />
      <Answer query={finished}>{(lines) => (lines.length === 0 ? <Empty>{t("review.none")}</Empty> : <Lines lines={lines} />)}</Answer>
    </>
  );
}

function Lines({ lines }: { lines: FinishedLine[] }) {
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
            <VisitCell to={`/office/review/${l.id}`} line={l} about={l.problem} />
            <td>{l.technician}</td>
            <td className="nowrap">{timeOrDay(l.ended)}</td>
            <td className="nowrap">
              {duration(l.travel)} + {duration(l.work)}
            </td>
            <td>{t(`outcome.${l.outcome}`)}</td>
            <td>
              {l.asked && <Tag kind="warn">{t("asks.waits")}</Tag>}
              {l.answered && <Tag kind="good">{t("asks.came")}</Tag>}
              <Exceptions list={l.exceptions} none={!l.asked && !l.answered} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
