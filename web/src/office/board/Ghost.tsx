import type { RefObject } from "react";
import { useLayoutEffect, useRef } from "react";
import type { Board, PlanFit } from "../../types";
import { time } from "../../ui/format";
import { driving, fitWords } from "../../ui/planReasons";
import { along, momentAt, type Scale } from "./scale";
import { warningsOf } from "./stops";
import type { Aim } from "./useAim";

interface Props {
  aim: Aim;
  fit?: PlanFit;
  board: Board;
  scale: Scale;
  root: RefObject<HTMLElement | null>;
  number?: number; // of a suggestion
}

/** Where something would go, with what that costs. It lies over the lanes, so that these need not be drawn anew while it moves. */
export function Ghost({ aim, fit, board, scale, root, number }: Props) {
  const box = useRef<HTMLDivElement>(null);
  // Moved as a layer of its own: nothing under it is drawn anew.
  useLayoutEffect(() => {
    const lane = root.current?.querySelector<HTMLElement>(`[data-lane="${CSS.escape(aim.along ?? aim.lane)}"]`);
    const track = root.current?.querySelector<HTMLElement>(".hours-track");
    if (!box.current || !lane || !track) return;
    const width = track.offsetWidth / 100;
    box.current.style.transform = `translate(${along(scale, aim.begin) * width}px, ${lane.offsetTop + 4}px)`;
    box.current.style.width = `${(along(scale, aim.begin + aim.length) - along(scale, aim.begin)) * width}px`;
  });
  const bad = fit && warningsOf(fit.why).length > 0;
  return (
    <div ref={box} className={`ghost${bad ? " bad" : ""}${number ? " suggested" : ""}`}>
      <b>
        {number && `${number} · `}
        {time(momentAt(scale, aim.begin))}
      </b>{" "}
      {fit && <span className="ghost-says">{number ? driving(fit) : fitWords(fit, board.skills)}</span>}
    </div>
  );
}
