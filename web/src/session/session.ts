/** Who is signed in on this device. It is remembered, so that the app opens with no signal. */
import { useSyncExternalStore } from "react";
import type { Conflict, Me, Problem, Right, Role } from "../types";
import { setZone } from "../ui/format";

const key = "iter.me";

/** Remembers, for the sign-in page, that this device was signed out because its access was ended. */
export const endedKey = "iter.ended";
/** Remembers that somebody signed out without signal: the office is told at the next start. */
export const leavingKey = "iter.leaving";
const listeners = new Set<() => void>();
let current: Me | null = read();

function read(): Me | null {
  try {
    const me = JSON.parse(localStorage.getItem(key) ?? "null") as Me | null;
    if (me) setZone(me.zone);
    return me;
  } catch {
    return null;
  }
}

export function remember(me: Me) {
  current = me;
  localStorage.setItem(key, JSON.stringify(me));
  setZone(me.zone);
  for (const f of listeners) f();
}

export const remembered = () => current;

/** Follows other tabs: when somebody signs out in one, or somebody else in, this one does too. */
export function followOtherTabs() {
  addEventListener("storage", (e) => {
    if (e.key !== key && e.key !== null) return;
    const now = read();
    if (now?.id === current?.id) return;
    current = now;
    for (const f of listeners) f();
  });
}

let leaving: Promise<void> | undefined;

/** Tells the office that somebody signed out here without signal: once there is some, and before anybody signs in. */
export function finishLeaving(): Promise<void> {
  if (!localStorage.getItem(leavingKey)) return Promise.resolve();
  leaving ??= askWith("/api/signout", { method: "POST" })
    .then(() => localStorage.removeItem(leavingKey))
    .finally(() => {
      leaving = undefined;
    });
  return leaving;
}

/** Whether whoever is signed in has one of some roles. */
export function useHas(...roles: Role[]): boolean {
  const me = useMe();
  return me !== null && has(me, ...roles);
}

/** Whether whoever is signed in has a right at the office: what they may not is not offered to them. */
export function useMay(right: Right): boolean {
  return useMe()?.may?.includes(right) ?? false;
}

/** The right to make or change records of a type. A type without one gives a right that nobody has. */
export const rightTo = (kind: "record.created" | "record.amended", type: string) => `${kind} ${type}` as Right;

export function useMe(): Me | null {
  return useSyncExternalStore(
    (f) => {
      listeners.add(f);
      return () => listeners.delete(f);
    },
    () => current,
  );
}

export const isOffice = (me: Me) => me.person.roles.some((r) => r !== "technician" && r !== "terminal");
/** Whether somebody has one of some roles. An administrator has all but the technician's and the terminal's: records.Person.Has. */
export const has = (me: Me, ...roles: Role[]) =>
  roles.some((r) => me.person.roles.includes(r) || (r !== "technician" && r !== "terminal" && me.person.roles.includes("administrator")));
export const isTerminal = (me: Me) => me.person.roles.includes("terminal");
export const isField = (me: Me) => me.person.roles.includes("technician");

/** A problem the server answered with, for the message catalogue. Of a command that others were in the way of it tells more. */
export class ApiError extends Error {
  readonly problem: Problem & Partial<Conflict>;
  constructor(problem: Problem & Partial<Conflict>) {
    super(problem.code);
    this.problem = problem;
  }
}

/** Asks the server. Rejects with an ApiError when it says no, also when it can't be reached. */
export const ask = <T>(path: string, body?: unknown): Promise<T> =>
  askWith(path, body === undefined ? undefined : { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });

/** Asks the server with a request of any kind. */
export const askWith = async <T>(path: string, request?: RequestInit): Promise<T> => (await askSeen<T>(path, request)).answer;

/** An answer, what it was read from, and up to which place in the log (0 where it does not say). */
export interface Answered<T> {
  answer: T;
  read: string[];
  seen: number;
}

/** Asks the server, and tells how the answer was read. */
export async function askSeen<T>(path: string, request?: RequestInit): Promise<Answered<T>> {
  let response: Response;
  try {
    response = await fetch(path, request);
  } catch {
    throw new ApiError({ type: "about:blank", title: "", status: 0, code: "server.unreachable" });
  }
  const names = (header: string) => response.headers.get(header)?.split(" ").filter(Boolean) ?? [];
  const reading = { read: names("Iter-Read"), seen: Number(response.headers.get("Iter-Seen") ?? 0) };
  const changed = names("Iter-Changed");
  if (changed.length > 0) for (const f of changes) f(changed);
  if (response.status === 204) return { answer: undefined as T, ...reading };
  const answer = await response.json().catch(() => ({ status: response.status, code: "server.failed" }));
  if (!response.ok) {
    if (response.status === 401) for (const f of lapses) f();
    throw new ApiError(answer);
  }
  return { answer, ...reading };
}

const changes = new Set<(changed: string[]) => void>();

/** Has f called with the names of what the server changed for a request of this page. Gives a function that ends it. */
export function onChange(f: (changed: string[]) => void): () => void {
  changes.add(f);
  return () => void changes.delete(f);
}

const lapses = new Set<() => void>();

/** Has f called when the server says that the sign-in is over. Gives a function that ends it. */
export function onLapse(f: () => void): () => void {
  lapses.add(f);
  return () => void lapses.delete(f);
}
