/** Amending records: which fields people correct, and the merge patch (RFC 7396) of what they changed with what they saw. */
import type { Asset, Customer, EntryDraft, Ref, Site } from "./types";

export type Editable = Site | Asset | Customer;

/** A field by its path, such as contact.phone. */
export interface Field {
  path: string;
  lines?: number;
  type?: "date" | "tel" | "email";
}

const contact: Field[] = [{ path: "contact.name" }, { path: "contact.role" }, { path: "contact.phone", type: "tel" }, { path: "contact.email", type: "email" }];

/** How to get in, and what to look out for there. */
export const placeFields: Field[] = [
  { path: "access", lines: 2 },
  { path: "hazard", lines: 2 },
];
export const siteFields: Field[] = [...placeFields, ...contact];
export const assetFields: Field[] = [{ path: "name" }, { path: "maker" }, { path: "serial" }, { path: "installed", type: "date" }];

/** The value at a path, as text. */
export function at(record: unknown, path: string): string {
  let v = record;
  for (const p of path.split(".")) v = (v as Record<string, unknown> | undefined)?.[p];
  return typeof v === "string" ? v : "";
}

/** An object that has one value, at a path. */
export function nest(path: string, value: unknown): Record<string, unknown> {
  return path.split(".").reduceRight<unknown>((inner, p) => ({ [p]: inner }), value) as Record<string, unknown>;
}

type Tree = Record<string, unknown>;

function merge(a: Tree, b: Tree): Tree {
  const out = { ...a };
  for (const [k, v] of Object.entries(b)) out[k] = typeof v === "object" && v && k in out ? merge(out[k] as Tree, v as Tree) : v;
  return out;
}

/** What was changed: a patch, and the values it replaces; none when nothing was. */
export function amendment(record: unknown, values: Record<string, string>): { patch: Tree; base: Tree } | undefined {
  let patch: Tree = {};
  let base: Tree = {};
  for (const [path, typed] of Object.entries(values)) {
    const value = typed.trim();
    if (value === at(record, path)) continue;
    patch = merge(patch, nest(path, value));
    base = merge(base, nest(path, at(record, path)));
  }
  return Object.keys(patch).length > 0 ? { patch, base } : undefined;
}

/** What saves a record as it is meant to be: it is made, or what is another in it is changed, with what that replaces. Undefined when nothing is. */
export function recordEntry(subject: Ref, to: object, known?: object): EntryDraft | undefined {
  if (!known) return { kind: "record.created", subject, body: to };
  const [now, before] = [to, known] as Record<string, unknown>[];
  const names = [...new Set([...Object.keys(now), ...Object.keys(before)])].filter((n) => JSON.stringify(now[n] ?? null) !== JSON.stringify(before[n] ?? null));
  const of = (from: Record<string, unknown>) => Object.fromEntries(names.map((n) => [n, from[n] ?? null]));
  return names.length > 0 ? { kind: "record.amended", subject, body: of(now), base: of(before) } : undefined;
}
