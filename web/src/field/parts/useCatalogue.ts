/** The catalogue on this device, made ready for search once and again when it changes. */
import { useSyncExternalStore } from "react";
import { Catalogue, kitItem, partItem } from "../../catalogue/catalogue";
import { core, loadCore } from "../../device/core";
import type { DeviceDB } from "../../device/db";
import { observe } from "../../device/live";
import { useDevice } from "../device";

interface Source {
  subscribe: (told: () => void) => () => void;
  now: () => Catalogue | undefined;
}

const sources = new Map<DeviceDB, Source>();

function sourceOf(db: DeviceDB): Source {
  const known = sources.get(db);
  if (known) return known;
  let current: Catalogue | undefined;
  const listeners = new Set<() => void>();
  observe(db, (db) => Promise.all([db.all("part"), db.all("kit")])).subscribe(async ([parts, kits]) => {
    await loadCore();
    const items = [...parts.map((p) => partItem(p.id, p.body)), ...kits.map((k) => kitItem(k.id, k.body))];
    current = new Catalogue(items, (codes) => core("codes", { codes }));
    for (const told of listeners) told();
  });
  const source: Source = {
    subscribe: (told) => {
      listeners.add(told);
      return () => listeners.delete(told);
    },
    now: () => current,
  };
  sources.set(db, source);
  return source;
}

export function useCatalogue(): Catalogue | undefined {
  const { db } = useDevice();
  const source = sourceOf(db);
  return useSyncExternalStore(source.subscribe, source.now);
}
