import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { keptWays, wayBetween } from "../../device/ways";
import type { Journey, MapPoint, VisitView } from "../../types";
import { isQuantity, typedNumber } from "../../ui/decimal";
import { isoDate } from "../../ui/format";
import { useDevice, useNow, useSettings } from "../device";
import { useLegs, useOrder } from "../route/legs";
import { onDay, useStops } from "../stops";
import { useRoundUp } from "./useHolders";

/** What somebody said of a trip; the rest is as the day's route has it. */
export interface SaidTrip {
  from?: string;
  to?: string;
  back?: boolean;
  begin?: string;
  end?: string;
}

interface Place {
  name: string;
  at: MapPoint;
}

/** A trip between two places of the day: how far it is by road, and by the odometer, in kilometres; "" where that is not known. */
export function useTrip(view: VisitView, said: SaidTrip) {
  const places = usePlaces(view);
  const before = useBefore(view, places);
  const ways = useLive(useDevice().db, keptWays, []);
  const from = said.from ?? before?.name ?? "";
  const to = said.to ?? view.site.name;
  const back = said.back ?? false;
  const [begin, end] = [said.begin ?? "", said.end ?? ""];
  const at = (name: string) => places.find((p) => p.name === name)?.at;
  const [a, b] = [at(from), at(to)];
  const metres = (a && b && wayBetween(ways, a, b)?.metres) || 0;
  const wrong = [begin, end].some((o) => o.trim() !== "" && !isQuantity(o)) || (isQuantity(begin) && isQuantity(end) && kilometresBetween(begin, end) < 0);
  const meter = isQuantity(begin) && isQuantity(end) && !wrong ? String(Number(kilometresBetween(begin, end).toFixed(1))) : "";
  const road = metres > 0 ? ((metres * (back ? 2 : 1)) / 1000).toFixed(1) : "";
  const body: Journey = {
    from: from || undefined,
    to: to || undefined,
    back: back || undefined,
    metres: metres || undefined,
    begin: isQuantity(begin) ? typedNumber(begin) : undefined,
    end: isQuantity(end) ? typedNumber(end) : undefined,
  };
  return { places, from, to, back, begin, end, road, meter, wrong, body };
}

const kilometresBetween = (begin: string, end: string) => Number(typedNumber(end)) - Number(typedNumber(begin));

/** The places that the phone knows ways between: where days begin, the day's stops, and the stores. */
function usePlaces(view: VisitView): Place[] {
  const { t } = useTranslation();
  const { me } = useDevice();
  const settings = useSettings();
  const all = useStops();
  const round = useRoundUp();
  const out: Place[] = [];
  const add = (name: string, at: MapPoint | undefined) => at && !out.some((p) => p.name === name) && out.push({ name, at });
  add(t("trip.home"), me.person.home);
  add(t("trip.yard"), settings?.road.yard);
  for (const s of (all && onDay(all, isoDate(view.visit.start))) ?? []) if (s.site?.lat) add(s.site.name, { lat: s.site.lat, lon: s.site.lon ?? 0 });
  if (view.site.lat) add(view.site.name, { lat: view.site.lat, lon: view.site.lon ?? 0 });
  for (const p of round?.places ?? []) if (!p.person) add(p.name, p.where);
  return out;
}

/** Where the drive to a visit begins: at the stop before it, or where the day does. */
function useBefore(view: VisitView, places: Place[]): Place | undefined {
  const now = useNow(60_000);
  const day = isoDate(view.visit.start);
  const all = useStops();
  const stops = all && onDay(all, day);
  const legs = useLegs(stops, useOrder(day), now);
  const at = legs?.findIndex((l) => l.id === view.id) ?? -1;
  if (at < 0) return undefined;
  const earlier = legs!
    .slice(0, at)
    .map((l) => stops?.find((s) => s.id === l.id)?.site?.name)
    .filter((name) => places.some((p) => p.name === name));
  return places.find((p) => p.name === earlier.at(-1)) ?? places[0];
}
