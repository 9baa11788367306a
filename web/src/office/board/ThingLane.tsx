import { useTranslation } from "react-i18next";
import type { Board, PlanLane, PlanStop } from "../../types";
import { Free } from "./Lane";
import { bar, type Scale } from "./scale";
import { rowsOf, visitOn } from "./stops";

interface Props {
  lane: PlanLane;
  board: Board;
  scale: Scale;
  chosen?: string;
  onChoose: (id: string) => void;
}

/** What a boat, a rig or a bay is booked for. */
export function ThingLane({ lane, board, scale, chosen, onChoose }: Props) {
  const { t } = useTranslation();
  const spanOf = (s: PlanStop) => (s.begun || s.over ? s.were! : { from: s.begin, to: s.begin + s.length });
  const rows = rowsOf((lane.stops ?? []).map((s) => ({ id: s.id, ...spanOf(s) })));
  return (
    <section className="lane thing" style={rows.style} aria-label={lane.name} data-lane={lane.id}>
      <div className="lane-who">
        <b>{lane.name}</b>
        <span className="tiny quiet block">{lane.always || lane.hours?.length ? t("board.thing") : t("board.thingOut")}</span>
      </div>
      <div className="lane-track">
        <Free lane={lane} scale={scale} />
        <ol className="lane-list">
          {lane.stops?.map((s) => {
            const on = visitOn(board, s.id);
            return (
              <li key={s.id} style={rows.of(s.id)}>
                <button
                  type="button"
                  className={`trip ${on?.visit.stage ?? "planned"}`}
                  aria-pressed={s.id === chosen}
                  style={bar(scale, spanOf(s).from, spanOf(s).to)}
                  onClick={() => onChoose(s.id)}
                >
                  <span className="trip-site">{on ? t("board.thingFor", { site: on.visit.site, name: on.person.short }) : t("board.booked")}</span>
                  {on && <span className="lane-stage">{t(`stage.${on.visit.stage}`)}</span>}
                </button>
              </li>
            );
          })}
        </ol>
      </div>
    </section>
  );
}
