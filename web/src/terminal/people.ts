/** Who may use this terminal, and how it knows them: by badge always, by number and PIN as the office says. */
import { ApiError, ask } from "../session/session";
import type { Code, Identified, TerminalPerson } from "../types";

const key = "iter.terminal";

/** The people as the office last gave them: kept, so that badges work through a loss of network. */
export async function readPeople(): Promise<TerminalPerson[]> {
  try {
    const people = await ask<TerminalPerson[]>("/api/terminal/people");
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

/** Numbers that were let in since this page was opened, with a slow hash of the PIN: they are let in without network too. */
const known = new Map<string, { salt: Uint8Array<ArrayBuffer>; hash: string; person: string }>();

async function slow(pin: string, salt: Uint8Array<ArrayBuffer>): Promise<string> {
  const raw = await crypto.subtle.importKey("raw", new TextEncoder().encode(pin), "PBKDF2", false, ["deriveBits"]);
  return hex(await crypto.subtle.deriveBits({ name: "PBKDF2", hash: "SHA-256", salt, iterations: 200_000 }, raw, 256));
}

/** The person a number and PIN belong to, or what is wrong with them. */
export async function byPin(people: TerminalPerson[], number: string, pin: string): Promise<TerminalPerson | Code> {
  try {
    const { person } = await ask<Identified>("/api/terminal/identify", { number, pin });
    const salt = crypto.getRandomValues(new Uint8Array(16));
    known.set(number, { salt, hash: await slow(pin, salt), person });
    return people.find((p) => p.person === person) ?? { code: "terminal.wrong" };
  } catch (e) {
    const problem = e instanceof ApiError ? e.problem : { code: "unreadable", status: 0 };
    if (problem.status !== 0) {
      known.delete(number);
      return problem;
    }
    const had = known.get(number);
    if (!had) return { code: "terminal.offline" };
    return (await slow(pin, had.salt)) === had.hash ? (people.find((p) => p.person === had.person) ?? { code: "terminal.wrong" }) : { code: "terminal.wrong" };
  }
}
