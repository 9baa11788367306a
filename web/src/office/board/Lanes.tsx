import { memo } from "react";
import type { Board } from "../../types";
import { time } from "../../ui/format";
import { Lane } from "./Lane";
import { along, hour, momentAt, type Scale } from "./scale";
import { visitOn } from "./stops";
import { ThingLane } from "./ThingLane";

interface Props {
  board: Board;
  scale: Scale;
  chosen?: string;
  several: string[];
  onChoose: (id: string, more?: boolean) => void;
  onPerson: (id: string) => void;
}

/** The hours and under them all lanes. They are not drawn anew while something moves over them. */
export const Lanes = memo(function Lanes({ board, scale, chosen, several, onChoose, onPerson }: Props) {
  const on = visitOn(board, chosen);
  const hours = Array.from({ length: Math.ceil(scale.length / hour) }, (_, i) => i * hour);
  return (
    <>
      <div className="hours" aria-hidden="true">
        <span className="lane-who" />
        <span className="hours-track">
          {hours.map((h) => (
            <span key={h} style={{ left: `${along(scale, h)}%` }}>
              {time(momentAt(scale, h)).replace(/^0?(\d+):00$/, "$1")}
            </span>
          ))}
        </span>
      </div>
      {board.people.map((p) => (
        <Lane
          key={p.id}
          person={p}
          board={board}
          scale={scale}
          chosen={on?.person.id === p.id ? chosen : undefined}
          several={several}
          onChoose={onChoose}
          onPerson={onPerson}
        />
      ))}
      {board.plan.lanes
        .filter((l) => l.thing)
        .map((l) => (
          <ThingLane key={l.id} lane={l} board={board} scale={scale} chosen={chosen} onChoose={onChoose} />
        ))}
    </>
  );
});
