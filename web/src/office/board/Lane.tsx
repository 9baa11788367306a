/** One person's day: stops as they are and will be, the ways between them to scale, and when nobody works. */
import { memo } from "react";
import { useTranslation } from "react-i18next";
import type { Board, BoardPerson, PlanLane } from "../../types";
import { absenceWhy } from "../../ui/absence";
import { duration, time } from "../../ui/format";
import { useSettings } from "../queries";
import type { DraftedBoard } from "./drafted";
import { Stop } from "./Stop";
import { bar, gaps, minute, type Scale, secondsOf } from "./scale";
import { drawnAt, loadOf, rowsOf } from "./stops";

/** When somebody does not work, or a thing can't be had: hatched. Of whom nothing is said is taken to be there at any time. */
export function Free({ lane, scale }: { lane: PlanLane | undefined; scale: Scale }) {
  if (!lane || lane.always) return null;
  return gaps(scale, lane.hours ?? []).map(({ from, to }) => <span key={from} className="lane-free" style={bar(scale, from, to)} />);
}

interface Props {
  person: BoardPerson;
  board: Board;
  scale: Scale;
  chosen?: string; // of this lane's visits
  several: string[];
  onChoose: (id: string, more?: boolean) => void;
  onPerson: (id: string) => void;
}

export const Lane = memo(function Lane({ person, board, scale, chosen, several, onChoose, onPerson }: Props) {
  const { t } = useTranslation();
  const reasons = useSettings().data?.planning.absences ?? [];
  const lane = board.plan.lanes.find((l) => l.id === person.id);
  const { work, hours } = loadOf(person);
  const now = secondsOf(scale, board.now);
  const helping = (person.helps ?? []).map((h) => ({ id: h.visit, from: secondsOf(scale, h.start), to: secondsOf(scale, h.start) + h.minutes * minute }));
  const rows = rowsOf([...person.visits.map((v) => ({ id: v.id, past: v.stage === "withdrawn", ...drawnAt(v, scale, now) })), ...helping]);
  return (
    <section className="lane" style={rows.style} aria-label={person.name} data-lane={person.id}>
      <div className="lane-who">
        <button type="button" className="lane-name" onClick={() => onPerson(person.id)}>
          {person.short}
        </button>{" "}
        {person.duty?.length ? <span className="tiny quiet">{t("board.onDuty")}</span> : null}
        <span className={`tiny block${hours > 0 && work > hours ? " over" : " quiet"}`}>
          {person.off
            ? t("board.off", { why: absenceWhy(reasons, person.off) })
            : hours > 0
              ? t("board.load", { work: duration(work), hours: duration(hours) })
              : !lane?.always
                ? t("board.notWorking")
                : work > 0
                  ? duration(work)
                  : t("board.none")}
        </span>
      </div>
      <div className="lane-track">
        <Free lane={lane} scale={scale} />
        {person.duty?.map((d) => (
          <span
            key={d.begin}
            className="lane-duty"
            style={bar(scale, secondsOf(scale, d.begin), secondsOf(scale, d.end))}
            title={t("board.duty", { rota: d.rota, from: time(d.begin), to: time(d.end) })}
          />
        ))}
        {(board as DraftedBoard).were
          ?.filter((w) => w.person === person.id)
          .map((w) => (
            <span
              key={w.visit}
              className="trip-planned was"
              style={bar(scale, secondsOf(scale, w.start), secondsOf(scale, w.start) + w.minutes * minute)}
              title={t("plandraft.was", { site: w.site })}
            />
          ))}
        <ol className="lane-list">
          {person.visits.map((v) => (
            <Stop key={v.id} row={rows.of(v.id)} visit={v} board={board} scale={scale} chosen={v.id === chosen || several.includes(v.id)} onChoose={onChoose} />
          ))}
          {person.helps?.map((h) => (
            <li key={h.visit} style={rows.of(h.visit)}>
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
