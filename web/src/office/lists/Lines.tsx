import { DataGrid, type GridColDef, type GridRowSelectionModel } from "@mui/x-data-grid";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import type { ListColumn, ListLine, ListPage } from "../../types";
import grid from "../../ui/DataList.module.css";
import { Empty } from "../../ui/Empty";
import { duration } from "../../ui/format";
import { pageOf } from "../find/choices";
import type { Asking } from "./address";
import css from "./Lists.module.css";
import { type ListName, useWords, type Words } from "./words";

interface Props {
  list: ListName;
  page: ListPage;
  asked: Asking;
  busy: boolean;
  picked: string[];
  onPick: (picked: string[]) => void;
  onAsk: (change: Partial<Asking>) => void;
}

/** As many lines as the server gives at once. */
const size = 100;

/** Columns that are not shown until somebody asks for them. */
const hidden: Partial<Record<ListName, string[]>> = {
  orders: ["urgency", "theirs", "held", "responsible", "minutes", "kind"],
  visits: ["kind", "reviewed", "unsigned", "ended", "minutes"],
  sites: ["phone", "placed"],
  assets: ["warranty", "removed"],
};

/** The columns that are shown, in their order. */
export function shownColumns(list: ListName, all: ListColumn[], asked: Asking): ListColumn[] {
  if (asked.columns.length === 0) return all.filter((c) => !hidden[list]?.includes(c.name));
  return asked.columns.flatMap((name) => all.find((c) => c.name === name) ?? []);
}

/** How wide columns are, in pixels; the others share the rest. */
const widths: Record<string, number> = {
  number: 92,
  state: 184,
  stage: 110,
  priority: 110,
  visits: 76,
  minutes: 96,
  sites: 76,
  assets: 96,
  open: 96,
  unit: 80,
};
const widthOf = (c: ListColumn) => widths[c.name] ?? (c.kind === "moment" ? 166 : c.kind === "day" ? 120 : c.kind === "yes" ? 90 : undefined);

/** How wide the others are at least. */
const least: Record<string, number> = { problem: 240, name: 200, customer: 180, site: 160, asset: 130, technician: 130, address: 200 };

/** A page of lines, sorted by a press on a head, with keys from cell to cell. */
export function Lines({ list, page, asked, busy, picked, onPick, onAsk }: Props) {
  const { t } = useTranslation();
  const words = useWords(list);
  const navigate = useNavigate();
  const columns: GridColDef<ListLine>[] = shownColumns(list, page.columns, asked).map((c) => ({
    field: c.name,
    headerName: words.title(c.name),
    width: widthOf(c),
    minWidth: least[c.name] ?? 110,
    flex: widthOf(c) ? undefined : c.name === "problem" || c.name === "name" ? 2 : 1,
    headerAlign: c.kind === "number" || c.kind === "minutes" ? "right" : "left",
    cellClassName: c.kind === "number" || c.kind === "minutes" ? grid.number : undefined,
    sortingOrder: ["asc", "desc"],
    valueGetter: (_, line) => shown(words, c, line.cells[c.name] ?? ""),
    renderCell: (cell) => <Cell list={list} column={c} line={cell.row} words={words} focus={cell.hasFocus} />,
  }));
  if (page.total === 0) return <Empty>{t(asked.q || asked.where.length > 0 ? "list.none" : "list.nothing")}</Empty>;
  const down = asked.sort.startsWith("-");
  const model: GridRowSelectionModel = { type: "include", ids: new Set(picked) };
  return (
    <div className={`${grid.list} ${css.lines}`}>
      <DataGrid
        aria-label={t(`list.name.${list}`)}
        rows={page.lines}
        columns={columns}
        loading={busy && page.lines.length === 0}
        rowHeight={44}
        columnHeaderHeight={44}
        disableColumnMenu
        disableColumnFilter
        disableRowSelectionOnClick
        disableRowSelectionExcludeModel
        checkboxSelection={list === "orders"}
        rowSelectionModel={model}
        onRowSelectionModelChange={(m) => onPick([...m.ids].map(String))}
        hideFooterSelectedRowCount
        paginationMode="server"
        rowCount={page.total}
        pageSizeOptions={[size]}
        paginationModel={{ page: asked.page, pageSize: size }}
        onPaginationModelChange={(m) => m.page !== asked.page && onAsk({ page: m.page })}
        hideFooter={page.total <= size}
        sortingMode="server"
        sortModel={asked.sort ? [{ field: asked.sort.replace(/^-/, ""), sort: down ? "desc" : "asc" }] : []}
        onCellKeyDown={({ field, row }, e) => {
          if (e.key !== "Enter") return;
          const to = wayTo(
            list,
            page.columns.find((c) => c.name === field),
            row,
          );
          if (to) navigate(to);
        }}
        onSortModelChange={([s]) => onAsk({ sort: s ? (s.sort === "desc" ? "-" : "") + s.field : "" })}
      />
      <p className={`small ${css.sums}`} role="status">
        {t("list.count", { count: page.total })}
        {page.columns.filter((c) => c.sum && Number(page.sums[c.name]) > 0).map((c) => ` · ${words.title(c.name)} ${shown(words, c, page.sums[c.name])}`)}
      </p>
    </div>
  );
}

/** What a cell says. */
export const shown = (words: Words, c: ListColumn, value: string) => (c.kind === "minutes" && value ? duration(Number(value) * 60) : words.value(c, value));

/** Where a press on a cell leads. */
function wayTo(list: ListName, c: ListColumn | undefined, line: ListLine): string | undefined {
  const id = c && line.cells[`${c.name}_id`];
  if (list === "visits" && c?.name === "start") return `/office/visits/${line.id}`;
  return c?.of && c.of !== "person" && id ? pageOf(c.of, id) : undefined;
}

function Cell({ list, column: c, line, words, focus }: { list: ListName; column: ListColumn; line: ListLine; words: Words; focus: boolean }) {
  const value = line.cells[c.name] ?? "";
  const text = shown(words, c, value);
  const to = wayTo(list, c, line);
  if (to && text)
    return (
      <Link to={to} tabIndex={focus ? 0 : -1} title={text}>
        {text}
      </Link>
    );
  if (c.name === "priority" && value === "emergency") return <b title={text}>{text}</b>;
  return <span title={text}>{text}</span>;
}
