import type { DraftLine } from "../../types";
import { Answer, useBoard } from "../queries";
import { DayBoard } from "./DayBoard";
import { FilterRow } from "./FilterRow";
import type { Filters } from "./filters";
import { useDrafting } from "./usePlanDraft";
import { useShownBoard } from "./useShownBoard";

interface Props {
  date: string;
  map: boolean;
  zoom: number;
  filters: Filters;
  lines?: DraftLine[]; // of the draft that is shown
  onChange: (change: Filters) => void;
}

/** A day, on lanes or on a map, as the filters leave it. */
export function DayView({ date, map, zoom, filters, lines, onChange }: Props) {
  const query = useBoard(date, useDrafting());
  const shown = useShownBoard(date, lines);
  return (
    <Answer query={query}>
      {(board) =>
        shown && (
          <>
            <div className="board-filters">
              <FilterRow board={board} shown={shown} filters={filters} onChange={onChange} />
            </div>
            <DayBoard key={shown.date} board={shown} zoom={zoom} map={map} />
          </>
        )
      }
    </Answer>
  );
}
