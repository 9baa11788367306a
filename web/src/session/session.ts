/** Who is signed in on this device. It is remembered, so that the app opens with no signal. */
import { useSyncExternalStore } from "react";
import type { Me, Problem } from "../types";
import { setZone } from "../ui/format";

const key = "iter.me";

/** Remembers, for the sign-in page, that this device was signed out because its access was ended. */
export const endedKey = "iter.ended";
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

export function remember(me: Me | null) {
  current = me;
  if (me) {
    localStorage.setItem(key, JSON.stringify(me));
    setZone(me.zone);
  } else localStorage.removeItem(key);
  for (const f of listeners) f();
}

export const remembered = () => current;

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
export const isTerminal = (me: Me) => me.person.roles.includes("terminal");
export const isField = (me: Me) => me.person.roles.includes("technician");

/** A problem the server answered with, for the message catalogue. */
export class ApiError extends Error {
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.code);
    this.problem = problem;
  }
}

/** Asks the server. Rejects with an ApiError when it says no, also when it can't be reached. */
export const ask = <T>(path: string, body?: unknown): Promise<T> =>
  askWith(path, body === undefined ? undefined : { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });

/** Asks the server with a request of any kind. */
export async function askWith<T>(path: string, request?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, request);
  } catch {
    throw new ApiError({ type: "about:blank", title: "", status: 0, code: "server.unreachable" });
  }
  if (response.status === 204) return undefined as T;
  const answer = await response.json().catch(() => ({ status: response.status, code: "server.failed" }));
  if (!response.ok) throw new ApiError(answer);
  return answer;
}
