import { useTranslation } from "react-i18next";
import type { Leg } from "../../types";
import { duration, kilometres, time } from "../../ui/format";
import { LayerDrawer } from "../../ui/Layers";
import type { Stop } from "../stops";
import DayMap from "./DayMap";

/** The way to a stop, road by road. */
export default function Directions({ leg, stop, onClose }: { leg: Leg; stop?: Stop; onClose: () => void }) {
  const { t } = useTranslation();
  const way = leg.way!;
  return (
    <LayerDrawer anchor="bottom" onClose={onClose}>
      <div className="choices field tall">
        <div>
          <h2>{t("directions.title", { site: stop?.site?.name })}</h2>
          <p className="small quiet">
            {duration(way.seconds)} · {kilometres(way.metres)}
            {leg.arrive && ` · ${t("directions.arrive", { time: time(leg.arrive) })}`}
          </p>
        </div>
        {stop && <DayMap legs={[leg]} stops={[stop]} />}
        <ol className="scroll">
          {way.parts.map((p, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a road may come twice on one way
            <li className="line" key={i}>
              <span className="grow">
                {t(p.class === "ferry" ? "directions.ferry" : p.name ? "directions.follow" : "directions.unnamed", { name: p.name })}
              </span>
              <span className="end small">
                {kilometres(p.metres)}
                <span className="block quiet">{duration(p.seconds)}</span>
              </span>
            </li>
          ))}
          <li className="line">
            <span className="grow strong">
              {stop?.site?.name}
              <span className="small quiet block">{stop?.site?.address}</span>
            </span>
          </li>
        </ol>
        <button type="button" className="link" onClick={onClose}>
          {t("photos.close")}
        </button>
      </div>
    </LayerDrawer>
  );
}
