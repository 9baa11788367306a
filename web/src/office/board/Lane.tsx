/** One person's day: stops as they are and will be, the ways between them to scale, and when nobody works. */
import { memo, useMemo } from "react";
import { useTranslation } from "react-i18next";
import type { Board, BoardPerson, Interval } from "../../types";
import { absenceWhy } from "../../ui/absence";
import { duration } from "../../ui/format";
import { useSettings } from "../queries";
import { Stop } from "./Stop";
import { bar, minute, type Scale, secondsOf } from "./scale";
import { loadOf } from "./stops";

/** The stretches of the day in which somebody does not work. */
function outside(s: Scale, hours: Interval[]): [number, number][] {
  const out: [number, number][] = [];
  let at = 0;
  for (const h of hours) {
    if (secondsOf(s, h.begin) > at) out.push([at, secondsOf(s, h.begin)]);
    at = Math.max(at, secondsOf(s, h.end));
  }
  if (at < s.length) out.push([at, s.length]);
  return out;
}

interface Props {
  person: BoardPerson;
  board: Board;
  scale: Scale;
  chosen?: string; // of this lane's visits
  onChoose: (id: string) => void;
}

export const Lane = memo(function Lane({ person, board, scale, chosen, onChoose }: Props) {
  const { t } = useTranslation();
  const reasons = useSettings().data?.planning.absences ?? [];
  // Of whom nothing is said is taken to work at any time.
  const always = board.plan.lanes.find((l) => l.id === person.id)?.always ?? false;
  const free = useMemo(() => (always ? [] : outside(scale, person.hours)), [always, person, scale]);
  const { work, hours } = loadOf(person);
  return (
    <section className="lane" aria-label={person.name} data-lane={person.id}>
      <div className="lane-who">
        <b>{person.short}</b>
        <span className={`tiny block${hours > 0 && work > hours ? " over" : " quiet"}`}>
          {person.off
            ? t("board.off", { why: absenceWhy(reasons, person.off) })
            : hours > 0
              ? t("board.load", { work: duration(work), hours: duration(hours) })
              : !always
                ? t("board.notWorking")
                : work > 0
                  ? duration(work)
                  : t("board.none")}
        </span>
      </div>
      <div className="lane-track">
        {free.map(([from, to]) => (
          <span key={from} className="lane-free" style={bar(scale, from, to)} />
        ))}
        <ol className="lane-list">
          {person.visits.map((v) => (
            <Stop key={v.id} visit={v} board={board} scale={scale} chosen={v.id === chosen} onChoose={onChoose} />
          ))}
          {person.helps?.map((h) => (
            <li key={h.visit}>
              <button
                type="button"
                className={`trip helps ${h.stage}`}
                style={bar(scale, secondsOf(scale, h.start), secondsOf(scale, h.start) + h.minutes * minute)}
                onClick={() => onChoose(h.visit)}
              >
                <span className="trip-site">{h.site}</span>
                <span className="lane-stage">{t("board.with", { name: h.lead })}</span>
              </button>
            </li>
          ))}
        </ol>
      </div>
    </section>
  );
});
