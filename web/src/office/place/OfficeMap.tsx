import { type ReactNode, useMemo } from "react";
import { fetchTile, type MapSource, MapSourceProvider } from "../../map/source";
import { useQuestion } from "../commands";

/** How long a map is taken for the one that there is, in milliseconds. */
const asked = 5 * 60_000;

/** Gives the office's screens the map of the firm's region. */
export function OfficeMap({ children }: { children: ReactNode }) {
  const about = useQuestion("/api/map", {}, { staleTime: asked }).data;
  const rev = about?.rev;
  // biome-ignore lint/correctness/useExhaustiveDependencies: of the same revision it is the same map
  const source = useMemo<MapSource | undefined>(() => (about && rev ? { about, tile: (...at) => fetchTile(rev, ...at) } : undefined), [rev]);
  return <MapSourceProvider value={source}>{children}</MapSourceProvider>;
}
