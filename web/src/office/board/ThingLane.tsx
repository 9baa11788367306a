import { useTranslation } from "react-i18next";
import type { Board, PlanLane } from "../../types";
import { Free } from "./Lane";
import { bar, type Scale } from "./scale";
import { visitOn } from "./stops";

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
  return (
    <section className="lane thing" aria-label={lane.name} data-lane={lane.id}>
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
              <li key={s.id}>
                <button
                  type="button"
                  className={`trip ${on?.visit.stage ?? "planned"}`}
                  aria-pressed={s.id === chosen}
                  style={bar(scale, s.begun || s.over ? s.were!.from : s.begin, s.begun || s.over ? s.were!.to : s.begin + s.length)}
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
