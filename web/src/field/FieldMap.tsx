import { type ReactNode, useMemo } from "react";
import { useLive } from "../device/live";
import { deviceMap } from "../device/tiles";
import { MapSourceProvider } from "../map/source";
import type { RegionMap } from "../types";
import { useDevice } from "./device";

/** Gives the field's screens the map of the firm's region, from the tiles that the device keeps. */
export function FieldMap({ children }: { children: ReactNode }) {
  const { db } = useDevice();
  const about = useLive(db, async (d) => (await d.remembered.get("map"))?.value as RegionMap | undefined, []);
  const rev = about?.rev;
  // biome-ignore lint/correctness/useExhaustiveDependencies: of the same revision it is the same map
  const source = useMemo(() => (about && rev ? deviceMap(db, about) : undefined), [db, rev]);
  return <MapSourceProvider value={source}>{children}</MapSourceProvider>;
}
