/** Who may use this terminal, and how it knows them: by badge always, by number and PIN as the office says. */
import { act, get } from "../session/api";
import { ApiError } from "../session/session";
import type { Code, Identified, ShownIdentity, TerminalPerson } from "../types";

/** Somebody who identified themselves: since when, and the key under which what they record is proven to be theirs. */
export interface Present extends TerminalPerson {
  identified: ShownIdentity;
}

const key = "iter.terminal";

/** The people as the office last gave them: kept, so that badges work through a loss of network. */
export async function readPeople(): Promise<TerminalPerson[]> {
  try {
    const people = await get("/api/terminal/people");
    localStorage.setItem(key, JSON.stringify(people));
    return people;
  } catch {
    return JSON.parse(localStorage.getItem(key) ?? "[]");
  }
}

const hex = (b: ArrayBuffer) => [...new Uint8Array(b)].map((x) => x.toString(16).padStart(2, "0")).join("");

/** The person whose badge says a text. */
export async function byBadge(people: TerminalPerson[], text: string): Promise<TerminalPerson | undefined> {
  const sum = hex(await crypto.subtle.digest("SHA-256", new TextEncoder().encode(text.trim())));
  return people.find((p) => p.badge === sum);
}

/**
 * Numbers that were let in since this page was opened: they are let in without network too. The key that the office gave is kept encrypted
 * under the PIN, so that the terminal alone can't speak for anybody.
 */
const known = new Map<string, { salt: Uint8Array<ArrayBuffer>; iv: Uint8Array<ArrayBuffer>; sealed: ArrayBuffer; person: string }>();

async function underPin(pin: string, salt: Uint8Array<ArrayBuffer>): Promise<CryptoKey> {
  const raw = await crypto.subtle.importKey("raw", new TextEncoder().encode(pin), "PBKDF2", false, ["deriveKey"]);
  return crypto.subtle.deriveKey({ name: "PBKDF2", hash: "SHA-256", salt, iterations: 200_000 }, raw, { name: "AES-GCM", length: 256 }, false, [
    "encrypt",
    "decrypt",
  ]);
}

async function keep(number: string, pin: string, { person, key: secret }: Identified) {
  const salt = crypto.getRandomValues(new Uint8Array(16));
  const iv = crypto.getRandomValues(new Uint8Array(12));
  const sealed = await crypto.subtle.encrypt({ name: "AES-GCM", iv }, await underPin(pin, salt), new TextEncoder().encode(secret));
  known.set(number, { salt, iv, sealed, person });
}

/** The person a number and PIN belong to, or what is wrong with them. */
export async function byPin(people: TerminalPerson[], number: string, pin: string): Promise<Present | Code> {
  const present = (person: string, secret: string): Present | Code => {
    const found = people.find((p) => p.person === person);
    return found ? { ...found, identified: { since: Date.now(), key: secret } } : { code: "terminal.wrong" };
  };
  try {
    const identified = await act("/api/terminal/identify", {}, { number, pin });
    await keep(number, pin, identified);
    return present(identified.person, identified.key);
  } catch (e) {
    const problem = e instanceof ApiError ? e.problem : { code: "unreadable", status: 0 };
    if (problem.status !== 0) {
      known.delete(number);
      return problem;
    }
    const had = known.get(number);
    if (!had) return { code: "terminal.offline" };
    try {
      const secret = await crypto.subtle.decrypt({ name: "AES-GCM", iv: had.iv }, await underPin(pin, had.salt), had.sealed);
      return present(had.person, new TextDecoder().decode(secret));
    } catch {
      return { code: "terminal.wrong" }; // another PIN opens nothing
    }
  }
}
