/** What is asked of a list: it stands in the address, so that Back finds it again, and a view can keep it. */
import { useSearchParams } from "react-router";
import type { ListFilter } from "../../types";

export interface Asking {
  q: string;
  where: ListFilter[];
  sort: string;
  page: number;
  /** the column by which lines are grouped */
  by: string;
  /** the columns that are shown, in their order; none: as the list has them */
  columns: string[];
}

/** What an address asks for. What can't be read is left out. */
export function asking(params: URLSearchParams): Asking {
  let where: ListFilter[] = [];
  try {
    const read = JSON.parse(params.get("where") ?? "[]");
    if (Array.isArray(read)) where = read.filter((f) => typeof f?.column === "string");
  } catch {
    // an address that somebody cut short asks for less
  }
  const list = params.get("columns");
  return {
    q: params.get("q") ?? "",
    where,
    sort: params.get("sort") ?? "",
    page: Math.max(0, Number(params.get("page")) || 0),
    by: params.get("by") ?? "",
    columns: list ? list.split(",") : [],
  };
}

/** The address that asks for something; what is as usual is left out. */
export function queryOf(a: Asking): URLSearchParams {
  const out = new URLSearchParams();
  if (a.q) out.set("q", a.q);
  if (a.where.length > 0) out.set("where", JSON.stringify(a.where));
  if (a.sort) out.set("sort", a.sort);
  if (a.page > 0) out.set("page", String(a.page));
  if (a.by) out.set("by", a.by);
  if (a.columns.length > 0) out.set("columns", a.columns.join(","));
  return out;
}

/** What the server is asked of it. */
export const askOf = (a: Asking) => ({ q: a.q, where: a.where.length > 0 ? JSON.stringify(a.where) : "", sort: a.sort, page: a.page });

/** What is asked now, and how to ask for something else. Whatever changes begins on the first page, unless it is the page. */
export function useAsking(): [Asking, (change: Partial<Asking>) => void] {
  const [params, setParams] = useSearchParams();
  return [asking(params), (change) => setParams((before) => queryOf({ ...asking(before), page: 0, ...change }), { replace: true })];
}

/** Filters with another in the place of that of its column; one that asks for nothing is left out. */
export const withFilter = (where: ListFilter[], f: ListFilter): ListFilter[] => {
  const rest = where.filter((x) => x.column !== f.column);
  return f.in?.length || f.from || f.to ? [...rest, f] : rest;
};
