/** Some days planned anew, all that waits together or what was chosen: what is asked, how far it is, and what it comes to. It goes into a draft. */
import { Button, Checkbox, FormControlLabel, LinearProgress, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { Board, Solution, Solving, SolvingAsked } from "../../types";
import { Failure, useAct, useBoard, useQuestion } from "../queries";
import { SolvedPlan } from "./SolvedPlan";
import { useDrafting } from "./usePlanDraft";

interface Props {
  board: Board;
  chosen?: string[];
  onClose: () => void;
}

const spans = [1, 2, 3, 5, 7, 10, 14];

/** How often it is asked how far it is, in milliseconds. */
const often = 400;

const running = (s: Solving | undefined) => s?.asked !== undefined && !s.solution;

/** What is worked out for whoever is signed in. */
function useSolving() {
  const now = useQuestion("/api/office/solving", {}, { refetchInterval: (q) => (running(q.state.data) ? often : false) });
  const begin = useAct("/api/office/solving", {});
  const stop = useAct("/api/office/solving/stop", {});
  return {
    now: now.data,
    error: now.error ?? begin.error ?? stop.error,
    busy: begin.isPending,
    begin: (q: SolvingAsked) => begin.mutate(q, { onSuccess: () => now.refetch() }),
    stop: () => stop.mutate(undefined as never, { onSuccess: () => now.refetch() }),
  };
}

export function SolvePlan({ board, chosen, onClose }: Props) {
  const { t } = useTranslation();
  const drafting = useDrafting();
  const all = useBoard(board.date, drafting).data?.people.length ?? board.people.length;
  const some = board.people.length < all;
  const draft = useDraft(`solve ${board.date}`, { days: 1, move: false, why: "" });
  const { days, move } = draft.value;
  const solving = useSolving();
  const asked = solving.now?.asked;
  const now = asked?.from === board.date && (asked.chosen ?? []).join() === (chosen ?? []).join() ? solving.now : undefined;
  const begin = () =>
    solving.begin({ from: board.date, days, move, draft: drafting || undefined, people: some ? board.people.map((p) => p.id) : undefined, chosen });
  const done = () => {
    solving.stop(); // what was taken over is not to be taken over again
    draft.clear();
    onClose();
  };
  return (
    <section className="chosen" aria-label={t("solution.title")}>
      <h2>{chosen ? t("solution.chosen", { count: chosen.length }) : t("solution.title")}</h2>
      <div className="hand-over">
        <TextField select size="small" label={t("solution.days")} value={days} onChange={(e) => draft.change({ days: Number(e.target.value) })}>
          {spans.map((n) => (
            <MenuItem key={n} value={n}>
              {t("solution.daysOf", { count: n })}
            </MenuItem>
          ))}
        </TextField>
        {!chosen && (
          <FormControlLabel control={<Checkbox checked={move} onChange={(e) => draft.change({ move: e.target.checked })} />} label={t("solution.move")} />
        )}
        {some && <p className="small">{t("solution.shown", { count: board.people.length })}</p>}
        {running(now) ? (
          <Progress now={now!} onStop={solving.stop} />
        ) : (
          <Button variant={now?.solution ? "outlined" : "contained"} disabled={solving.busy} onClick={begin}>
            {t(now?.solution ? "solution.again" : "solution.begin")}
          </Button>
        )}
      </div>
      {now?.solution && <Found solution={now.solution} board={board} why={draft.value.why} onWhy={(why) => draft.change({ why })} onDone={done} />}
      <Failure error={solving.error} />
      <button type="button" className="link" onClick={onClose}>
        {t("photos.close")}
      </button>
    </section>
  );
}

interface FoundProps {
  solution: Solution;
  board: Board;
  why: string;
  onWhy: (why: string) => void;
  onDone: () => void;
}

function Found({ solution, ...rest }: FoundProps) {
  const { t } = useTranslation();
  if (solution.lines.length === 0 && solution.left.length === 0) return <p className="small">{t("solution.nothing")}</p>;
  return <SolvedPlan solution={solution} {...rest} />;
}

/** How far it is, and a way to have what was found so far. */
function Progress({ now, onStop }: { now: Solving; onStop: () => void }) {
  const { t } = useTranslation();
  return (
    <div role="status">
      <LinearProgress variant="determinate" value={(100 * now.round) / Math.max(now.rounds, 1)} aria-label={t("solution.working")} />
      <p className="small">
        {now.waits ? t("solution.waits") : t("solution.soFar", { count: now.left })}
        {now.less > 0 && ` · ${t("solution.less", { percent: now.less })}`}
      </p>
      <Button onClick={onStop} disabled={now.waits}>
        {t("solution.stop")}
      </Button>
    </div>
  );
}
