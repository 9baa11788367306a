import type { RefObject } from "react";
import { useLayoutEffect, useRef } from "react";
import type { Board, PlanFit } from "../../types";
import { time } from "../../ui/format";
import { driving, fitWords } from "../../ui/planReasons";
import { bar, hour, momentAt, type Scale } from "./scale";
import { warningsOf } from "./stops";
import type { Aim } from "./useAim";

interface Props {
  aim?: Aim; // it is there while there is none, and not seen
  fit?: PlanFit;
  board: Board;
  scale: Scale;
  root: RefObject<HTMLElement | null>;
  number?: number; // of a suggestion
}

/** What it costs is at most so wide, in pixels, as in the style; it keeps to what is seen of the lanes. */
const widest = 314;

const idle = { begin: 0, length: hour };

/** Where something would go, with what that costs. It lies over the lanes, so that these need not be drawn anew while it moves. */
export function Ghost({ aim, fit, board, scale, root, number }: Props) {
  const box = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const { current: ghost } = box;
    const lane = aim && root.current?.querySelector<HTMLElement>(`[data-lane="${CSS.escape(aim.along ?? aim.lane)}"]`);
    const seen = root.current?.parentElement?.getBoundingClientRect().right;
    if (!ghost || !lane || seen === undefined) return;
    ghost.style.top = `${lane.offsetTop + 4}px`;
    ghost.style.setProperty("--beyond", `${Math.max(0, ghost.getBoundingClientRect().left + widest - seen)}px`);
  });
  const bad = fit && warningsOf(fit.why).length > 0;
  const { begin, length } = aim ?? idle;
  return (
    <div ref={box} style={bar(scale, begin, begin + length)} className={`ghost${aim ? "" : " idle"}${bad ? " bad" : ""}${number ? " suggested" : ""}`}>
      <b>
        {number && `${number} · `}
        {time(momentAt(scale, begin))}
      </b>{" "}
      <span className="ghost-says">{fit && (number ? driving(fit) : fitWords(fit, board.skills))}</span>
    </div>
  );
}
