import type { Board, PlanFit } from "../../types";
import { time } from "../../ui/format";
import { fitWords } from "../../ui/planReasons";
import { momentAt, type Scale } from "./scale";

interface Props {
  fit: PlanFit;
  board: Board;
  scale: Scale;
}

/** A fit in a line: who, when, how much driving it adds, and what else there is to know. */
export function FitLine({ fit, board, scale }: Props) {
  const who = board.people.find((p) => p.id === fit.lane);
  return (
    <>
      <b>
        {who?.short} {time(momentAt(scale, fit.begin))}
      </b>{" "}
      {fitWords(fit, board.skills)}
    </>
  );
}
