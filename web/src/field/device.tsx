/** What every field screen uses: this device's database, its sync, the clock, recording. */

import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { CoreError, core } from "../device/core";
import { DeviceDB } from "../device/db";
import { draftStore } from "../device/drafts";
import { waitingFiles } from "../device/files";
import { useLive } from "../device/live";
import { wholeSince } from "../device/pack";
import { record } from "../device/record";
import { Syncer } from "../device/sync";
import type { StoredFile } from "../device/tables";
import { useCore } from "../device/useCore";
import { Drafts, DraftsProvider } from "../draft/draft";

export { useCore };

import type { Code, EntryBodies, EntryKind, Flag, Me, Notices, Ref, ReplicaState, Settings, ShownIdentity, VisitView } from "../types";
import { isoDate } from "../ui/format";
import { secondTap } from "../ui/secondTap";
import { say } from "../words/i18n";

interface Device {
  me: Me;
  db: DeviceDB;
  drafts: Drafts;
  syncer: Syncer;
  tell: (sentence: string) => void;
}

const databases = new Map<string, DeviceDB>();
const draftsBy = new Map<DeviceDB, Drafts>();

/** What a person typed on this device and has not saved. */
export function draftsOf(db: DeviceDB): Drafts {
  let drafts = draftsBy.get(db);
  if (!drafts) {
    drafts = new Drafts(draftStore(db));
    draftsBy.set(db, drafts);
  }
  return drafts;
}

/** The database of a person on this device; opened once, as early as it is known who they are. */
export function databaseOf(person: string): DeviceDB {
  let db = databases.get(person);
  if (!db) {
    db = new DeviceDB(person);
    databases.set(person, db);
    db.open().catch(() => {}); // a question to it says what is wrong
  }
  return db;
}

const Context = createContext<Device | null>(null);

export function useDevice(): Device {
  const device = useContext(Context);
  if (!device) throw new Error("no device");
  return device;
}

export function DeviceProvider({ me, children }: { me: Me; children: ReactNode }) {
  const [sentence, tell] = useState("");
  const device = useMemo(() => {
    const db = databaseOf(me.id);
    return { me, db, drafts: draftsOf(db), syncer: new Syncer(db), tell };
  }, [me]);
  useEffect(() => {
    device.syncer.start();
    void navigator.storage?.persist?.();
    return () => device.syncer.stop();
  }, [device]);
  useEffect(() => {
    if (!sentence) return;
    const timer = setTimeout(() => tell(""), 7000);
    return () => clearTimeout(timer);
  }, [sentence]);
  const today = isoDate(useNow(60_000));
  const settings = useLive(device.db, (db) => db.settings(), [today]);
  return (
    <Context.Provider value={device}>
      <SettingsContext.Provider value={settings}>
        <DraftsProvider drafts={device.drafts}>{children}</DraftsProvider>
      </SettingsContext.Provider>
      <div role="alert" className={sentence ? "toast" : "visually-hidden"}>
        {sentence}
      </div>
    </Context.Provider>
  );
}

/** How the device stands with the office, and how much is not there yet: undefined until that is counted. */
export function useSync() {
  const { syncer, db } = useDevice();
  const status = useSyncExternalStore(syncer.subscribe, syncer.snapshot);
  const waiting = useLive(db, async (db) => (await db.unfolded()).filter((p) => !p.seq).length + (await waitingFiles(db)) + (await db.picked.count()), []);
  return { ...status, waiting };
}

/** What this person's entries raised that they have not seen yet. */
export function useNotices(): Notices["list"] {
  const { db, me } = useDevice();
  return useLive(db, async (db) => (await db.body("notices", me.id))?.list, [me]) ?? [];
}

export function useReplica(): ReplicaState | undefined {
  const { db } = useDevice();
  return useLive(db, async (db) => (await db.remembered.get("state"))?.value as ReplicaState | undefined, []);
}

/** Whether what this device shows is all there is for the person: false until it has come from the office once, undefined until that is known. */
export function useWhole(): boolean | undefined {
  const { db } = useDevice();
  return useLive(db, async (db) => (await wholeSince(db)) !== undefined, []);
}

/** The currency of all amounts; "" until it is known. */
export const useCurrency = () => useSettings()?.company.currency ?? "";

const SettingsContext = createContext<Settings | undefined>(undefined);

/** The company's rules that hold today, once they are on this device. */
export const useSettings = (): Settings | undefined => useContext(SettingsContext);

/** Now, in milliseconds, told anew every so often. */
export function useNow(every: number): number {
  const [now, set] = useState(Date.now);
  useEffect(() => {
    const timer = setInterval(() => set(Date.now()), every);
    return () => clearInterval(timer);
  }, [every]);
  return now;
}

/** Who records at a shared terminal, and how they identified themselves. */
export interface Recorder {
  person: string;
  identified: ShownIdentity;
}

/** What a person is told while they can still look: the rest comes from the office. */
const atOnce = ["serial.twice", "part.gone"];

interface More {
  base?: unknown;
  file?: StoredFile;
  as?: Recorder;
  send?: string[];
}

/**
 * Records a draft, about a visit or another document, and sends it on. Resolves to the entry's id, or to nothing after telling the person
 * what is wrong. What is recorded again a moment later, by a second tap, is the same entry.
 */
export function useRecord() {
  const { db, syncer, tell } = useDevice();
  const last = useRef<{ draft: string; at: number; entry: Promise<string | undefined> }>(null);
  return useCallback(
    <K extends EntryKind>(kind: K, about: string | Ref, body: EntryBodies[K], more: More = {}): Promise<string | undefined> => {
      const subject = typeof about === "string" ? { type: "visit", id: about } : about;
      const keep = async () => {
        try {
          const flagged = (flags: Flag[]) => {
            const told = flags.find((f) => atOnce.includes(f.code));
            if (told) tell(say(told));
          };
          const full = { kind, subject, body, base: more.base, actor: more.as?.person, identified: more.as?.identified };
          const id = await record(db, full, more.file, flagged, more.send);
          syncer.soon();
          return id;
        } catch (e) {
          tell(say(problemOf(e)));
          return undefined;
        }
      };
      const draft = JSON.stringify([kind, subject, body, more.as?.person]);
      const at = performance.now();
      if (last.current?.draft !== draft || at - last.current.at > secondTap) last.current = { draft, at, entry: keep() };
      return last.current.entry;
    },
    [db, syncer, tell],
  );
}

/** What to say when something could not be kept. */
export function problemOf(e: unknown): Code {
  if (e instanceof CoreError) return e.code;
  const dom = e as { name?: string; inner?: { name?: string } } | undefined;
  return { code: dom?.name === "QuotaExceededError" || dom?.inner?.name === "QuotaExceededError" ? "device.full" : "unreadable" };
}

/** A visit as it stands: undefined while it is opened, null when it is not on this device. */
export function useVisit(id: string): VisitView | null | undefined {
  const { db } = useDevice();
  const ready = useCore();
  const minute = Math.floor(useNow(15_000) / 15_000);
  return useLive(db, async (db) => (ready ? loadVisit(db, id) : undefined), [id, ready, minute]);
}

export async function loadVisit(db: DeviceDB, id: string): Promise<VisitView | null> {
  if (!(await db.body("visit", id))) return null;
  return (await db.ask([{ type: "visit", id }], (m) => core("visit", { ...m, id }))).visit;
}
