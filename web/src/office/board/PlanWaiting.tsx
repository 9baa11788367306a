/** All that waits, planned together on the day that is shown: what that comes to, and what is left. It goes into a draft. */
import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { Board } from "../../types";
import { Failure, useQuestion } from "../queries";
import { Difference } from "./Difference";
import { FitLine } from "./Fit";
import { givenEntries } from "./giving";
import { Proposed } from "./Proposals";
import type { Scale } from "./scale";
import { useDrafting, useIntoDraft } from "./usePlanDraft";

interface Props {
  board: Board;
  scale: Scale;
  onClose: () => void;
}

export function PlanWaiting({ board, scale, onClose }: Props) {
  const { t } = useTranslation();
  const into = useIntoDraft();
  const drafting = useDrafting();
  const { date } = board;
  const solution = useQuestion("/api/office/solution", drafting ? { date, draft: true } : { date });
  const draft = useDraft(`plan what waits ${date}`, { why: "" });
  const changes = givenEntries(solution.data?.lines ?? [], draft.value.why, board, scale, into.idOf);
  const record = async () => {
    await into.put(changes);
    draft.clear();
    onClose();
  };
  return (
    <section className="chosen" aria-label={t("solution.title")}>
      <h2>{t("solution.title")}</h2>
      {solution.data ? (
        <div className="hand-over">
          <p className="small">
            {t("solution.fits", { count: solution.data.lines.length, all: solution.data.lines.length + solution.data.left.length })}{" "}
            {changes.length > 0 && <Difference draft={{ lines: [], days: [{ date, before: solution.data.before, after: solution.data.after }] }} />}
          </p>
          <Proposed board={board} scale={scale} handed={solution.data.lines} why={draft.value.why} onWhy={(why) => draft.change({ why })} />
          {solution.data.left.length > 0 && (
            <>
              <h3>{t("solution.left")}</h3>
              <ul className="gaps">
                {solution.data.left.map((l) => (
                  <li key={l.order.id} className="small">
                    <b>{l.order.site}</b> {l.order.problem}
                    <span className="quiet block">
                      {l.order.waits ? (
                        t("board.waits", { count: l.order.waits })
                      ) : l.fit ? (
                        <>
                          {t("solution.nearest")} <FitLine fit={l.fit} board={board} scale={scale} />
                        </>
                      ) : (
                        t("solution.nobody")
                      )}
                    </span>
                  </li>
                ))}
              </ul>
            </>
          )}
          {solution.data.more ? <p className="small">{t("solution.more", { count: solution.data.more })}</p> : null}
          <Button variant="contained" disabled={into.busy || changes.length === 0} onClick={() => record().catch(() => {})}>
            {t("solution.into", { count: changes.length })}
          </Button>
          <p className="tiny quiet">{t("personday.hint")}</p>
        </div>
      ) : (
        !solution.error && <p role="status">{t("solution.working")}</p>
      )}
      <Failure error={solution.error ?? into.error} />
      <button type="button" className="link" onClick={onClose}>
        {t("photos.close")}
      </button>
    </section>
  );
}
