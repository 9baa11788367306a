/** Has the map's library ask a source for tiles, and run its worker from where the program ships it. */
import { addProtocol, setWorkerUrl } from "maplibre-gl";
import worker from "maplibre-gl/dist/maplibre-gl-worker.mjs?url";
import type { MapSource } from "./source";
import { tileScheme } from "./style";

const sources = new Map<string, MapSource[]>(); // by the revision of their tiles

setWorkerUrl(worker);
addProtocol(tileScheme, async ({ url }) => {
  const [rev, z, x, y] = url.slice(`${tileScheme}://`.length).split("/");
  const source = sources.get(rev)?.at(-1);
  const data = source && (await source.tile(Number(z), Number(x), Number(y)));
  return { data: data ?? new ArrayBuffer(0) };
});

/** Has the tiles of a map come from a source, until what is given is called. */
export function provide(source: MapSource): () => void {
  const { rev } = source.about;
  sources.set(rev, [...(sources.get(rev) ?? []), source]);
  return () =>
    sources.set(
      rev,
      (sources.get(rev) ?? []).filter((s) => s !== source),
    );
}
