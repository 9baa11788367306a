/** Fits of visits, worked out in this browser: by the office's core, from the board's day and its table of ways. */
import "../../device/wasm_exec.js";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Board, FitQuestion, Handed, PlanFit, PlanSpan, Repaired } from "../../types";
import wasmUrl from "./office.wasm?url";
import { useDrafting } from "./usePlanDraft";

declare global {
  var iterOpenDay: ((day: string, table: Uint8Array, places: number) => string) | undefined;
  var iterAskDay: ((question: string) => string) | undefined;
}

export type AskFits = (q: FitQuestion) => PlanFit[];

/** Asks the day that is open. Before one is, there is no answer. */
const asked = <T>(q: FitQuestion): T[] => (globalThis.iterAskDay ? JSON.parse(globalThis.iterAskDay(JSON.stringify(q))) : []);

/** Who could do what is left of somebody's day: somebody else, or whoever fits best. */
export const handOver = (lane: string, to: string) => asked<Handed>({ lane, to, handOver: true });

/** When somebody, or whoever fits best, could do some visits or what waits. */
export const give = (ids: string[], to: string) => asked<Handed>({ give: ids, to });

/** How to put the day right, with some of what waits as what can't wait. */
export const repair = (urgent: string[]) => asked<Repaired>({ repair: true, give: urgent });

/** The gaps in somebody's hours. */
export const gapsOf = (lane: string) => asked<PlanSpan>({ lane, gaps: true });

let loading: Promise<boolean> | undefined;

function load(): Promise<boolean> {
  loading ??= (async () => {
    const go = new Go();
    const { instance } = await WebAssembly.instantiateStreaming(fetch(wasmUrl), go.importObject);
    void go.run(instance);
    return true;
  })().catch((e) => {
    loading = undefined; // the next board tries again
    throw e;
  });
  return loading;
}

const cellBytes = 4;

/** The ways of a day, as long as they are of the places that the board has: what came between brings another board, which asks again. */
async function waysOf(date: string, rev: string, draft: boolean): Promise<Uint8Array> {
  const answer = await fetch(`/api/office/day.ways?date=${date}${draft ? "&draft=true" : ""}`);
  if (!answer.ok || answer.headers.get("ETag") !== `"${rev}"`) throw new Error(`no ways: ${answer.status}`);
  return new Uint8Array(await answer.arrayBuffer());
}

/** Asks the fits of a board's day. Until its ways are there, or where there are none, places are as far as nobody knows. */
export function useFits(board: Board): AskFits | undefined {
  const core = useQuery({ queryKey: ["office core"], queryFn: load, staleTime: Number.POSITIVE_INFINITY });
  const rev = board.ways ?? "";
  const drafting = useDrafting();
  const ways = useQuery({
    queryKey: ["day.ways", board.date, rev],
    queryFn: () => waysOf(board.date, rev, drafting),
    enabled: rev !== "",
    staleTime: Number.POSITIVE_INFINITY,
  });
  const day = board.plan;
  return useMemo(() => {
    if (!core.data || !globalThis.iterOpenDay) return undefined;
    const table = ways.data ?? new Uint8Array();
    const failed = globalThis.iterOpenDay(JSON.stringify(day), table, Math.sqrt(table.length / cellBytes));
    return failed ? undefined : asked<PlanFit>;
  }, [core.data, ways.data, day]);
}
