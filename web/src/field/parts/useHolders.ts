import { useEffect } from "react";
import { core } from "../../device/core";
import { useLive } from "../../device/live";
import { where } from "../../device/record";
import { refreshRoundUp } from "../../device/roundup";
import { keptWays } from "../../device/ways";
import type { MapPoint, Near, RoundUp } from "../../types";
import { useCore, useDevice, useNow, useSettings } from "../device";

export function useRoundUp(): RoundUp | undefined {
  const { db } = useDevice();
  useEffect(() => {
    void refreshRoundUp(db, Date.now());
  }, [db]);
  return useLive(db, async (db) => (await db.remembered.get("roundup"))?.value as RoundUp | undefined, []);
}

/** Who else has a part, those with enough and the nearest first; undefined while it is found out. */
export function useHolders(part: string, quantity: string): { list: Near[]; at: string; from?: MapPoint } | undefined {
  const { me } = useDevice();
  const ready = useCore();
  const round = useRoundUp();
  const settings = useSettings();
  const ways = useLive(useDevice().db, keptWays, []);
  const now = useNow(60_000);
  const zone = settings?.company.zone ?? { name: "UTC", shifts: [] };
  if (!ready || !round) return undefined;
  const others = round.places.filter((p) => p.id !== me.person.van && p.free[part] !== undefined);
  const holders = others.map((p) => ({
    place: p.id,
    name: p.name,
    person: p.personName,
    phone: p.phone,
    at: p.where,
    seen: p.seen,
    free: p.free[part],
  }));
  const from = here(round, me.person.van) ?? me.person.home ?? settings?.road.yard;
  return { list: core("nearby", { from, quantity, holders, now, zone, ways, busy: settings?.road.busy }), at: round.at, from };
}

/** Where this person is: as the device says, or where their van was last. Without either, it is where their day begins. */
function here(round: RoundUp, van: string | undefined): MapPoint | undefined {
  const now = where();
  return now ? { lat: now.lat, lon: now.lon } : round.places.find((p) => p.id === van)?.where;
}
