/**
 * Drafts: what was typed, drawn or picked and is not saved yet. They outlive a closed drawer, the page and the browser, until what they are of is
 * saved or thrown away.
 */
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState, useSyncExternalStore } from "react";

/** Where drafts are kept: by name, any value that the browser's database takes. */
export interface DraftStore {
  load: () => Promise<[string, object][]>;
  put: (name: string, value: object) => void;
  drop: (name: string) => void;
}

/** The drafts of one person, in memory and behind it in a store; in memory alone without one. */
export class Drafts {
  private readonly values = new Map<string, object>();
  private readonly listeners = new Set<() => void>();
  private loading: Promise<void> | undefined;
  loaded: boolean;
  constructor(private readonly store?: DraftStore) {
    this.loaded = !store;
  }

  /** Reads what was kept, once. A store that can't be read has nothing. */
  load(): Promise<void> {
    this.loading ??= (async () => {
      for (const [name, value] of (await this.store?.load().catch(() => [])) ?? []) if (!this.values.has(name)) this.values.set(name, value);
      this.loaded = true;
      this.tell();
    })();
    return this.loading;
  }

  get = (name: string): object | undefined => this.values.get(name);

  put(name: string, value: object) {
    this.values.set(name, value);
    this.store?.put(name, value);
    this.tell();
  }

  /** Lets go of a draft, if it is still what was seen of it: what was typed since stays. */
  drop(name: string, seen: object | undefined) {
    if (this.values.get(name) !== seen || !this.values.delete(name)) return;
    this.store?.drop(name);
    this.tell();
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };

  private tell() {
    for (const listener of this.listeners) listener();
  }
}

const Context = createContext(new Drafts());

/** Gives those below it a person's drafts, once they are read. */
export function DraftsProvider({ drafts, children }: { drafts: Drafts; children: ReactNode }) {
  const [loaded, setLoaded] = useState(drafts.loaded);
  useEffect(() => {
    let here = true;
    void drafts.load().then(() => here && setLoaded(true));
    return () => {
      here = false;
    };
  }, [drafts]);
  return <Context.Provider value={drafts}>{loaded && children}</Context.Provider>;
}

export interface Draft<T extends object> {
  value: T;
  /** whether anything was typed that is not saved */
  begun: boolean;
  change: (patch: Partial<T>) => void;
  /** changes it by what it is by then */
  update: (change: (now: T) => Partial<T>) => void;
  /** lets go of what this rendering shows: it was saved, or thrown away. What was typed since stays. */
  clear: () => void;
}

/** The draft of a form, by a name that says what it is of. Blank is what the form begins with; what is the same as that is not kept. */
export function useDraft<T extends object>(name: string, blank: T): Draft<T> {
  const drafts = useContext(Context);
  const read = () => drafts.get(name);
  const kept = useSyncExternalStore(drafts.subscribe, read, read) as Partial<T> | undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: blank is made anew at each rendering, and says the same
  const value = useMemo(() => ({ ...blank, ...kept }), [kept, JSON.stringify(blank)]);
  const change = useCallback(
    (patch: Partial<T>) => {
      const next = { ...(drafts.get(name) as Partial<T> | undefined), ...patch };
      drafts.put(name, next);
    },
    [drafts, name],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: blank says the same as long as its JSON does
  const update = useCallback((f: (now: T) => Partial<T>) => change(f({ ...blank, ...drafts.get(name) })), [drafts, name, change, JSON.stringify(blank)]);
  const clear = useCallback(() => drafts.drop(name, kept), [drafts, name, kept]);
  return { value, begun: kept !== undefined, change, update, clear };
}

/** Whether something was begun and not saved. */
export function useBegun(name: string): boolean {
  const drafts = useContext(Context);
  const begun = () => drafts.get(name) !== undefined;
  return useSyncExternalStore(drafts.subscribe, begun, begun);
}

/** A single text. */
export function useDraftText(name: string): [text: string, type: (text: string) => void] {
  const { value, change, clear } = useDraft(name, { text: "" });
  return [value.text, (text) => (text ? change({ text }) : clear())];
}
