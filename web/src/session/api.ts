/** The ways in to the server, with what they take and give: as its table of routes has them. */
import type { Acts, Questions } from "../types";
import { ask, askWith } from "./session";

type Named<P extends string> = P extends `${string}:${infer N}/${infer Rest}` ? N | Named<`/${Rest}`> : P extends `${string}:${infer N}` ? N : never;

/** What stands in a path. */
export type Params<P extends string> = { [N in Named<P>]: string };

/** What a question asks for: what stands in its path, and the rest. */
export type Asked<P extends keyof Questions> = Params<P> & Questions[P]["query"];

// A path without any needs none to be given.
type Given<T> = unknown extends T ? [T?] : Record<never, never> extends T ? [T?] : [T];

/** The address of a path, with what stands in it, and the rest as its query. */
export function addressOf(path: string, args: object = {}): string {
  const query = new URLSearchParams();
  let address = path;
  for (const [name, value] of Object.entries(args)) {
    const place = new RegExp(`:${name}(?=/|$)`);
    if (place.test(address)) address = address.replace(place, () => encodeURIComponent(String(value)));
    else if (value !== undefined && value !== "" && value !== false) query.set(name, String(value));
  }
  return query.size > 0 ? `${address}?${query}` : address;
}

/** Asks a question. Rejects with an ApiError. */
export const get = <P extends keyof Questions>(path: P, ...args: Given<Asked<P>>): Promise<Questions[P]["answer"]> => ask(addressOf(path, args[0] as object));

/** Does something, with what is sent. Rejects with an ApiError. */
export const act = <P extends keyof Acts>(path: P, args: Params<P>, body: Acts[P]["body"] = {}): Promise<Acts[P]["answer"]> => ask(addressOf(path, args), body);

/** Sends a file. Rejects with an ApiError. */
export const sendFile = <P extends keyof Acts>(path: P, args: Params<P>, file: Blob): Promise<Acts[P]["answer"]> =>
  askWith(addressOf(path, args), { method: "POST", body: file });
