/** Long lists: the component library's grid, sorted by a press on a head, with keys from cell to cell, a hundred lines at a time. */
import { DataGrid, type GridColDef, type GridRowSelectionModel } from "@mui/x-data-grid";
import type { ReactNode } from "react";
import css from "./DataList.module.css";
import { Empty } from "./Empty";

export interface Column<R> {
  id: string;
  title: string;
  /** what the line has in it, to sort by, and to read when show is left out */
  value: (line: R) => string | number;
  show?: (line: R) => ReactNode;
  /** pixels; without it a column shares what is left, by its part */
  width?: number;
  part?: number;
  number?: boolean;
}

interface Props<R> {
  label: string;
  lines: R[];
  idOf: (line: R) => string;
  columns: Column<R>[];
  /** what is said when there is no line */
  empty: string;
  /** which lines are picked; without onPick none can be */
  picked?: string[];
  onPick?: (picked: string[]) => void;
  mayPick?: (line: R) => boolean;
}

/** The most lines that are on a page; how many there are, and which these are, is said below. */
const page = 100;

export function DataList<R extends object>({ label, lines, idOf, columns, empty, picked = [], onPick, mayPick }: Props<R>) {
  if (lines.length === 0) return <Empty>{empty}</Empty>;
  const cells: GridColDef<R>[] = columns.map((c) => ({
    field: c.id,
    headerName: c.title,
    width: c.width,
    flex: c.width ? undefined : (c.part ?? 1),
    valueGetter: (_, line) => c.value(line),
    renderCell: c.show && (({ row }) => c.show?.(row)),
    headerAlign: c.number ? "right" : "left",
    cellClassName: c.number ? css.number : undefined,
  }));
  const model: GridRowSelectionModel = { type: "include", ids: new Set(picked) };
  return (
    <div className={css.list}>
      <DataGrid
        aria-label={label}
        rows={lines}
        getRowId={idOf}
        columns={cells}
        getRowHeight={() => "auto"}
        getEstimatedRowHeight={() => 52}
        disableColumnMenu
        disableRowSelectionOnClick
        pageSizeOptions={[page]}
        initialState={{ pagination: { paginationModel: { pageSize: page } } }}
        hideFooter={lines.length <= page}
        hideFooterSelectedRowCount
        checkboxSelection={!!onPick}
        disableRowSelectionExcludeModel
        keepNonExistentRowsSelected
        isRowSelectable={({ row }) => mayPick?.(row) ?? true}
        rowSelectionModel={model}
        onRowSelectionModelChange={(m) => onPick?.([...m.ids].map(String))}
      />
    </div>
  );
}
