/** What a device keeps for the time without signal: the app itself, the day, and the papers for it. */
import type { FileRef, Document as Paper } from "../types";
import { isoDate } from "../ui/format";
import { fitsWork } from "../ui/knowHow";
import wasmUrl from "./core.wasm?url";
import type { DeviceDB } from "./db";
import { keptDirectory } from "./directory";
import { fetchFile } from "./files";
import paperUrl from "./paper.wasm?url";
import { ServerProblem } from "./problem";
import { lacksTiles } from "./tiles";

/** Papers come by themselves up to this size each, and for the next days up to this size together, in bytes. */
export const largestPaper = 10 << 20;
const mostPapers = 40 << 20;

const dayLength = 86_400_000;

/** Fetches the papers that belong to the device. One that can't be had now is asked for again at the next sync. */
export async function fetchPack(db: DeviceDB, signal: AbortSignal): Promise<void> {
  for (const ref of await packOf(db)) {
    if (await db.files.get(ref.hash)) continue;
    await fetchFile(db, ref, signal).catch((e) => {
      if (!(e instanceof ServerProblem) || e.status === 401) throw e;
    });
  }
}

/** The office's files that a device holds before they are needed: the firm's logo, papers that are marked for it, those that sheets name, and those of today's and tomorrow's work. */
export async function packOf(db: DeviceDB): Promise<FileRef[]> {
  const out: FileRef[] = [];
  const logo = (await db.settings())?.reports.logo;
  if (logo) out.push({ ...logo, name: "logo" });
  for (const { body } of [...(await db.all("workorder")), ...(await db.all("asset")), ...(await db.all("site"))]) {
    out.push(...papersOf(body).flatMap((p) => (p.pack ? [p.ref] : [])));
  }
  for (const s of await db.all("sheet")) {
    for (const q of s.body.sections.flatMap((x) => x.questions)) if (q.document) out.push(q.document);
  }
  let size = 0;
  for (const ref of await papersSoon(db)) {
    if (ref.size > largestPaper || size + ref.size > mostPapers || out.some((o) => o.hash === ref.hash)) continue;
    size += ref.size;
    out.push(ref);
  }
  return out;
}

function papersOf(body: { documents?: unknown } | undefined): { ref: FileRef; pack?: boolean }[] {
  const papers = Object.entries((body?.documents ?? {}) as Record<string, Paper>);
  return papers.map(([hash, p]) => ({ ref: { hash, name: p.name, type: p.type, size: p.size }, pack: p.pack }));
}

/** The papers about the orders, sites, machines and parts of today's and tomorrow's visits, and what was learned about such machines, by when they are needed. */
async function papersSoon(db: DeviceDB): Promise<FileRef[]> {
  const tree = (await db.settings())?.troubles.tree ?? [];
  const known = (await db.all("knowhow")).map((k) => k.body).filter((k) => !k.sent && !k.gone);
  const days = [isoDate(Date.now()), isoDate(Date.now() + dayLength)];
  const over = ["finished", "withdrawn", "declined"];
  const visits = (await db.all("visit")).map((v) => v.body).filter((v) => !over.includes(v.stage) && days.includes(isoDate(v.start)));
  const out: FileRef[] = [];
  for (const v of visits.sort((a, b) => a.start.localeCompare(b.start))) {
    const order = await db.body("workorder", v.order);
    const parts = await Promise.all((order?.needs ?? []).map((n) => db.body("part", n.part)));
    const asset = await db.body("asset", order?.asset);
    const learned = known.filter((k) => fitsWork(k, tree, asset?.kind, [order?.trouble]));
    for (const body of [order, asset, await db.body("site", order?.site), ...parts, ...learned]) out.push(...papersOf(body).map((p) => p.ref));
  }
  return out;
}

export type Need = "pages" | "core" | "printer" | "day" | "directory" | "papers" | "map";

/** What a device still needs before it can be without signal, with the bytes where they are known. */
export interface Needed {
  what: Need;
  bytes?: number;
}

/** How large a file of the app is that is still to come. */
const sizes = new Map<string, Promise<number | undefined>>();
function sizeOf(url: string): Promise<number | undefined> {
  let size = sizes.get(url);
  if (!size) {
    size = fetch(url, { method: "HEAD" })
      .then((r) => Number(r.headers.get("Content-Length")) || undefined)
      .catch(() => undefined);
    sizes.set(url, size);
  }
  return size;
}

/** What is not here yet. A browser that keeps no pages can't go without signal: then pages stay among them. */
export async function missing(db: DeviceDB): Promise<Needed[]> {
  const out: Needed[] = [];
  const kept = async (url: string) => "caches" in globalThis && (await caches.match(url, { ignoreSearch: true })) !== undefined;
  const worker = "serviceWorker" in navigator ? await navigator.serviceWorker.getRegistration() : undefined;
  if (!worker?.active || !(await kept("/index.html"))) out.push({ what: "pages" });
  if (!(await kept(wasmUrl))) out.push({ what: "core", bytes: await sizeOf(wasmUrl) });
  if (!(await kept(paperUrl))) out.push({ what: "printer", bytes: await sizeOf(paperUrl) });
  if (!(await wholeSince(db))) out.push({ what: "day" });
  if (!(await keptDirectory(db))) out.push({ what: "directory" });
  const papers = await packOf(db);
  const have = new Set(
    await db.files
      .where("hash")
      .anyOf(papers.map((p) => p.hash))
      .primaryKeys(),
  );
  const bytes = papers.filter((p) => !have.has(p.hash)).reduce((n, p) => n + p.size, 0);
  if (bytes > 0) out.push({ what: "papers", bytes });
  if (await lacksTiles(db)) out.push({ what: "map" });
  return out;
}

/** When all that the person needs had come from the office for the last time; undefined before the first. */
export async function wholeSince(db: DeviceDB): Promise<number | undefined> {
  return (await db.remembered.get("whole"))?.value as number | undefined;
}
