import type { TFunction } from "i18next";
import type { Journey } from "../types";

/** A trip in words: from where to where, how far by road, and what the odometer said. */
export function tripText(t: TFunction, trip: Journey | undefined): string {
  if (!trip) return "";
  const way = trip.from && trip.to ? t(trip.back ? "trip.wayBack" : "trip.way", { from: trip.from, to: trip.to }) : "";
  const road = trip.metres ? t("trip.road", { km: ((trip.metres * (trip.back ? 2 : 1)) / 1000).toFixed(1) }) : "";
  const meter =
    trip.begin !== undefined && trip.end !== undefined ? t("trip.meter", { km: String(Number((Number(trip.end) - Number(trip.begin)).toFixed(1))) }) : "";
  return [way, road, meter].filter(Boolean).join(" · ");
}
