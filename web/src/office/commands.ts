/** Commands to the office: each has its id from the first press, is repeated with it, and names how far whoever pressed had seen things. */
import { type QueryClient, type UseQueryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ulid } from "ulid";
import { nest } from "../records";
import { type Asked, act, addressOf, type Params } from "../session/api";
import { ApiError, askSeen } from "../session/session";
import type { Acts, Batch, ConflictField, EntryDraft, Logged, Problem, Questions, Ref } from "../types";
import { keep } from "./acknowledged";
import { readings } from "./news";

/** What stays on the screen while the next is asked for. */
export const keepLast = { placeholderData: <T>(old: T | undefined) => old };

/** Asks a question whose answer commands may be made from. What is asked for is in its key, so that it is found by an id. */
export function useQuestion<P extends keyof Questions>(path: P, asked: Asked<P>, how?: Partial<UseQueryOptions<Questions[P]["answer"]>>) {
  return useQuery<Questions[P]["answer"]>({
    queryKey: [path, ...Object.values(asked)],
    queryFn: async ({ client, queryKey }) => {
      const began = readings.asking();
      const { answer, ...reading } = await askSeen<Questions[P]["answer"]>(addressOf(path, asked));
      if (readings.answered(queryKey, reading, began)) setTimeout(() => client.invalidateQueries({ queryKey, exact: true })); // once it is shown
      return answer;
    },
    ...how,
  });
}

/** Does something that is no entry of the log. What it changed is asked for again. */
export function useAct<P extends keyof Acts>(path: P, args: Params<P>) {
  return useMutation({ mutationFn: (body: Acts[P]["body"]) => act(path, args, body), onSettled: () => readings.told });
}

/**
 * Up to where what is on the screen has been seen: as far as the oldest part of it. When there are any, of those that are about the subjects, or else
 * of those that were read from them: what else is on the screen may be asked for again later.
 */
function seenNow(client: QueryClient, orders: EntryDraft[]): number {
  const active = client
    .getQueryCache()
    .findAll({ type: "active" })
    .filter((q) => readings.seen(q.queryHash) > 0);
  const about = active.filter((q) => orders.some((o) => q.queryKey.includes(o.subject.id)));
  const from = active.filter((q) => orders.some((o) => readings.reads(q.queryHash, o.subject)));
  const parts = (about.length > 0 ? about : from.length > 0 ? from : active).map((q) => readings.seen(q.queryHash));
  return parts.length > 0 ? Math.min(...parts) : 0;
}

/** How long to wait before a command whose answer did not come is sent again, in milliseconds. */
const waits = [500, 1500, 3000];

/** Whether it is not known what became of a request. */
const unknown = (p: Problem) => p.status === 0 || [500, 502, 503, 504].includes(p.status);

/** Sends a batch until it is known what became of it, a few times. */
async function send(batch: Batch): Promise<Logged[]> {
  for (const wait of [...waits, 0]) {
    try {
      return (await act("/api/office/entries", {}, batch)).entries;
    } catch (e) {
      if (!(e instanceof ApiError) || !unknown(e.problem)) throw e;
      if (wait === 0) throw new ApiError({ ...e.problem, code: "command.unknown" });
      await new Promise((done) => setTimeout(done, wait));
    }
  }
  throw new Error("unreachable");
}

/** What is remembered from a first press to the answer: the ids it gave, and what the office said stands in the way. */
class Press {
  private ids = new Map<string, string>();
  private fresh = new Map<string, string>();
  private told = 0;
  private theirs: { subject: Ref; fields: ConflictField[] } | undefined;

  /** The id of something new: the same at each press, until it is recorded. */
  idOf = (what: string): string => kept(this.fresh, what);

  batch(orders: EntryDraft[], seen: number): Batch {
    return {
      seen: Math.max(seen, this.told),
      entries: orders.map((o, i) => ({
        ...o,
        base: this.known(o),
        id: kept(this.ids, `${i} ${o.kind} ${o.subject.type}/${o.subject.id}`),
      })),
    };
  }

  /** What an amendment replaces, as far as whoever presses has been told. */
  private known(o: EntryDraft): unknown {
    if (!this.theirs || this.theirs.subject.id !== o.subject.id || typeof o.base !== "object") return o.base;
    return this.theirs.fields.reduce((base, f) => merged(base, nest(f.field, f.theirs)), (o.base ?? {}) as Tree);
  }

  /** What was recorded is known to whoever recorded it. */
  done(entries: Logged[]) {
    this.ids.clear();
    this.fresh.clear();
    this.told = Math.max(this.told, ...entries.map((e) => e.seq));
    this.theirs = undefined;
  }

  refused(e: unknown, orders: EntryDraft[]) {
    if (!(e instanceof ApiError)) return;
    const { code, seen, fields } = e.problem;
    if (code === "command.changed") {
      this.told = seen ?? 0;
      this.theirs = fields?.length ? { subject: orders[0].subject, fields } : undefined;
    }
    if (code === "command.already") this.done([]); // they know: what they press next is something else
  }
}

type Tree = Record<string, unknown>;

function merged(a: Tree, b: Tree): Tree {
  const out = { ...a };
  for (const [k, v] of Object.entries(b)) out[k] = typeof v === "object" && v && typeof out[k] === "object" && out[k] ? merged(out[k] as Tree, v as Tree) : v;
  return out;
}

function kept(map: Map<string, string>, key: string): string {
  const id = map.get(key) ?? ulid();
  map.set(key, id);
  return id;
}

/**
 * Records office commands, all or none. Pressing again after an answer that was lost does nothing twice; pressing again after being told
 * what others did meanwhile does it all the same. form: what is shown was read when it opened, as in a drawer with fields.
 */
export function useCommands({ form = false } = {}) {
  const client = useQueryClient();
  const press = useRef<Press>(undefined);
  press.current ??= new Press();
  const [opened] = useState(() => seenNow(client, []));
  const remembered = press.current;
  const mutation = useMutation({
    mutationFn: async (orders: EntryDraft[]) => {
      try {
        const entries = await send(remembered.batch(orders, form ? opened : seenNow(client, orders)));
        remembered.done(entries);
        if (entries.length > 0) await keep(entries[0].actor, entries);
        return entries;
      } catch (e) {
        remembered.refused(e, orders);
        readings.missed(client); // it may have been done all the same, or others did something
        throw e;
      }
    },
    onSettled: () => readings.told,
  });
  return { ...mutation, idOf: remembered.idOf };
}
