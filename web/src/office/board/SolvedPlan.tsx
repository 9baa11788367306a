/** A plan that was worked out: what it changes and what that comes to, what is left and why, and into a draft with it. */
import { Button, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Board, Solution, SolutionLine } from "../../types";
import { duration, isoDate, momentOf, shortDate, time } from "../../ui/format";
import { fitWords } from "../../ui/planReasons";
import { Failure, useBoard } from "../queries";
import { Difference } from "./Difference";
import { solvedEntries } from "./solved";
import { graveOf } from "./stops";
import { useIntoDraft } from "./usePlanDraft";

interface Props {
  solution: Solution;
  board: Board;
  why: string;
  onWhy: (why: string) => void;
  onDone: () => void;
}

export function SolvedPlan({ solution: s, board, why, onWhy, onDone }: Props) {
  const { t } = useTranslation();
  const into = useIntoDraft();
  const changes = solvedEntries(s.lines, why, into.idOf);
  const record = () => into.put(changes).then(onDone, () => {}); // said below
  // What was late before it was planned is no lateness of the plan's.
  const lateBefore = s.lines.reduce((n, l) => n + (!l.moved && l.order.promise && Date.parse(l.order.promise) < Date.parse(board.now) ? l.fit.late : 0), 0);
  const after = { ...s.after, late: s.after.late - lateBefore };
  const days = [...new Set(s.lines.map((l) => isoDate(l.start)))];
  return (
    <div className="hand-over">
      <p className="small">
        {t("solution.fits", { count: s.lines.length, all: s.lines.length + s.left.length })}{" "}
        {changes.length > 0 && <Difference draft={{ lines: [], days: [{ date: board.date, before: s.before, after }] }} />}
      </p>
      {days.map((day) => (
        <section key={day} aria-label={shortDate(momentOf(day, "12:00"))}>
          {(days.length > 1 || day !== board.date) && <h3>{shortDate(momentOf(day, "12:00"))}</h3>}
          <ul className="gaps">
            {s.lines
              .filter((l) => isoDate(l.start) === day)
              .map((l) => (
                <Line key={`${l.id} ${l.part ?? 0}`} line={l} board={board} />
              ))}
          </ul>
        </section>
      ))}
      {s.lines.some((l) => graveOf(l.fit.why).length > 0) && (
        <TextField
          size="small"
          fullWidth
          label={t("despite.why")}
          value={why}
          onChange={(e) => onWhy(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 500 } }}
        />
      )}
      {s.left.length > 0 && <Left solution={s} board={board} />}
      {s.more ? <p className="small">{t("solution.more", { count: s.more })}</p> : null}
      <Failure error={into.error} />
      <Button variant="contained" disabled={into.busy || changes.length === 0} onClick={record}>
        {t("solution.into", { count: changes.length })}
      </Button>
      <p className="tiny quiet">{t("personday.hint")}</p>
    </div>
  );
}

function Line({ line: l, board }: { line: SolutionLine; board: Board }) {
  const { t } = useTranslation();
  const people = useBoard(board.date).data?.people ?? board.people;
  const along = (l.with ?? []).map((id) => people.find((p) => p.id === id)?.short ?? id);
  return (
    <li className="small">
      <b>{l.order.site}</b>
      <span className="block">
        <b>
          {[l.name, ...along].join(" + ")} {time(l.start)}
        </b>{" "}
        {l.parts && `${t("board.part", { part: l.part, parts: l.parts })}, ${duration(l.minutes * 60)} · `}
        {fitWords(l.fit, board.skills)}
      </span>
      {l.was && <span className="quiet block">{t("solution.was", { name: l.was.name, day: shortDate(l.was.start), time: time(l.was.start) })}</span>}
    </li>
  );
}

function Left({ solution, board }: { solution: Solution; board: Board }) {
  const { t } = useTranslation();
  const whyNot = (l: Solution["left"][number]) => {
    if (l.stays) return t("solution.stays");
    if (l.order.waits) return t("board.waits", { count: l.order.waits });
    if (!l.fit) return t(l.order.crew ? "solution.noCrew" : "solution.nobody", { count: l.order.crew });
    const name = board.people.find((p) => p.id === l.fit?.lane)?.short ?? "";
    return `${t("solution.nearest")} ${name} ${l.day && l.day !== board.date ? `${shortDate(momentOf(l.day, "12:00"))}, ` : ""}${fitWords(l.fit, board.skills)}`;
  };
  return (
    <>
      <h3>{t("solution.left")}</h3>
      <ul className="gaps">
        {solution.left.map((l) => (
          <li key={`${l.order.id} ${l.stays ?? false}`} className="small">
            <b>{l.order.site}</b> {l.order.problem}
            <span className="quiet block">{whyNot(l)}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
