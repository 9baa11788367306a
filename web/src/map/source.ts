/** Where a map's tiles come from: the office asks the server for each, a phone first looks what it keeps. */
import { createContext, use } from "react";
import type { RegionMap } from "../types";

/** A map of the firm's region, and what gives its tiles: nothing where there is nothing to see. */
export interface MapSource {
  about: RegionMap;
  tile(z: number, x: number, y: number): Promise<ArrayBuffer | undefined>;
}

const Source = createContext<MapSource | undefined>(undefined);

export const MapSourceProvider = Source.Provider;

/** Where tiles come from; undefined where the firm brought no region, or until it is known. */
export const useMapSource = (): MapSource | undefined => use(Source);

/** Asks the server for a tile. Rejects when it can't be reached, or has another map by now. */
export async function fetchTile(rev: string, z: number, x: number, y: number): Promise<ArrayBuffer | undefined> {
  const response = await fetch(`/api/map/${rev}/${z}/${x}/${y}`);
  if (response.status === 204) return undefined;
  if (!response.ok) throw new Error(`tile ${z}/${x}/${y}: ${response.status}`);
  return response.arrayBuffer();
}
