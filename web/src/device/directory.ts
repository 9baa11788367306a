/**
 * The directory of all customers, sites and machines, as this device last heard of it. It comes whole the first time, and what changed after that;
 * the records themselves are only with the visits of this person.
 */
import { get } from "../session/api";
import type { Directory } from "../types";
import type { DeviceDB } from "./db";

/** How old what is kept may be before it is asked what changed. */
const stale = 10 * 60_000;

/** A directory is kept as it is told, by columns. */
export type KeptDirectory = Omit<Directory, "whole">;

const asking = new Map<DeviceDB, Promise<void>>();

export async function keptDirectory(db: DeviceDB): Promise<KeptDirectory | undefined> {
  return (await db.remembered.get("directory"))?.value as KeptDirectory | undefined;
}

/** Asks what changed, when what is kept is old. Nobody waits for it. */
export function refreshDirectory(db: DeviceDB, now: number): Promise<void> {
  const under = asking.get(db);
  if (under) return under;
  const job = (async () => {
    if (!(await db.body("person", db.person))?.roles.includes("technician")) return; // a terminal
    const kept = await keptDirectory(db);
    if (kept && now - Date.parse(kept.at) < stale) return;
    const news = await get("/api/directory", kept ? { history: kept.history, seq: kept.seq } : {});
    await db.remembered.put({ name: "directory", value: withNews(kept, news) });
  })()
    .catch(() => {}) // what is kept stays
    .finally(() => asking.delete(db));
  asking.set(db, job);
  return job;
}

/** A directory with what changed since. Rows without a name are no more. */
export function withNews(kept: KeptDirectory | undefined, { whole, ...news }: Directory): KeptDirectory {
  if (whole || !kept) return news;
  const customers = joined(kept.customers, news.customers, {});
  const sites = joined(kept.sites, news.sites, { customer: (row) => customers.at.get(news.customers.id[row]) ?? 0 });
  const assets = joined(kept.assets, news.assets, { site: (row) => sites.at.get(news.sites.id[row]) ?? 0 });
  const there = assets.columns.name.flatMap((name, at) => (name ? [at] : []));
  const { id, site, name, serial } = assets.columns;
  return {
    ...news,
    customers: customers.columns,
    sites: sites.columns,
    assets: { id: there.map((at) => id[at]), site: there.map((at) => site[at]), name: there.map((at) => name[at]), serial: there.map((at) => serial[at]) },
  };
}

/** Columns with the rows of others in place of those of the same id, or after them; rows that point to others point to where those are now. */
function joined<C extends { id: string[] }>(kept: C, news: C, point: { [K in keyof C]?: (row: number) => number }) {
  const at = new Map(kept.id.map((id, i) => [id, i]));
  const columns = Object.fromEntries(Object.entries(kept).map(([name, column]) => [name, [...(column as unknown[])]])) as unknown as C;
  news.id.forEach((id, i) => {
    const row = at.get(id) ?? columns.id.length;
    at.set(id, row);
    for (const name of Object.keys(news) as (keyof C & string)[]) {
      const value = (news[name] as unknown[])[i];
      (columns[name] as unknown[])[row] = point[name] ? point[name](value as number) : value;
    }
  });
  return { columns, at };
}
