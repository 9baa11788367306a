import type { RefObject } from "react";
import { useLayoutEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import type { Board, PlanFit } from "../../types";
import { time } from "../../ui/format";
import { planReasons } from "../../ui/planReasons";
import { driving } from "./Fit";
import { bar, momentAt, type Scale } from "./scale";
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
  const { t } = useTranslation();
  const box = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const lane = root.current?.querySelector<HTMLElement>(`[data-lane="${CSS.escape(aim.lane)}"]`);
    if (box.current && lane) box.current.style.top = `${lane.offsetTop + 4}px`;
  }, [aim.lane, root]);
  const bad = fit && warningsOf(fit.why).length > 0;
  return (
    <div ref={box} className={`ghost${bad ? " bad" : ""}${number ? " suggested" : ""}`} style={bar(scale, aim.begin, aim.begin + aim.length)}>
      <b>
        {number && `${number} · `}
        {time(momentAt(scale, aim.begin))} {fit && t("fit.drive", { time: driving(fit) })}
      </b>
      {!number && fit && <span className="ghost-why">{planReasons(fit.why, board.skills).join(" · ")}</span>}
    </div>
  );
}
