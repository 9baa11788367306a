/** A map of the day that needs no signal: the stops, and the way between them. */
import { useTranslation } from "react-i18next";
import { MapView } from "../../map/MapView";
import type { Leg } from "../../types";
import { isOver, type Stop } from "../stops";

interface Props {
  legs: Leg[];
  stops: Stop[];
  onStop?: (id: string) => void;
}

export default function DayMap({ legs, stops, onStop }: Props) {
  const { t } = useTranslation();
  const stopOf = (l: Leg) => stops.find((s) => s.id === l.id);
  const spots = legs.flatMap((l, i) => {
    const stop = stopOf(l);
    return stop?.site?.lat
      ? [{ id: stop.id, at: { lat: stop.site.lat, lon: stop.site.lon ?? 0 }, label: String(i + 1), name: `${i + 1} ${stop.site.name}`, dim: isOver(stop) }]
      : [];
  });
  const ways = legs.flatMap((l) => {
    const stop = stopOf(l);
    return l.way && stop ? [{ id: l.id, line: l.way.line, dim: isOver(stop) }] : [];
  });
  return (
    <MapView spots={spots} ways={ways} label={t("map.label", { count: spots.length })} onSpot={onStop} nothing={<p className="empty">{t("map.nothing")}</p>} />
  );
}
