import { useMemo } from "react";
import { useSearchParams } from "react-router";
import type { DraftLine } from "../../types";
import { useBoard, useSettings } from "../queries";
import { type DraftedBoard, withDraft } from "./drafted";
import { filtered, readFilters } from "./filters";
import { useDrafting } from "./usePlanDraft";

/** The board of a day as it is shown, by the filters in the address; it is made once, so that lanes stay as they are while something moves over them. */
export function useShownBoard(date: string, lines?: DraftLine[]): DraftedBoard | undefined {
  const [params] = useSearchParams();
  const board = useBoard(date, useDrafting()).data;
  const planning = useSettings().data?.planning;
  const key = JSON.stringify(readFilters(params));
  return useMemo(() => board && withDraft(filtered(board, JSON.parse(key), planning), lines), [board, key, planning, lines]);
}
