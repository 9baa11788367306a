import type { FoundRecord } from "../../types";

/** Something that can be chosen in the bar: a record, or something to do. */
export interface Choice {
  key: string;
  /** its type of record, or "action" */
  type: string;
  title: string;
  detail?: string;
  /** found by what is spelled nearly so */
  slip?: boolean;
  /** where it is */
  to: string;
}

/** Where a record's page is. A paper is on that of the record that it hangs on. */
export function pageOf(type: string, id: string): string {
  if (type === "workorder") return `/office/orders/${id}`;
  if (type === "knowhow") return `/office/knowhow/${id}`;
  if (type === "paper") {
    const [owner, of] = id.split("/");
    if (owner === "knowhow") return `/office/knowhow/${of}`;
    return `/office/records/${owner}/${of}`;
  }
  return `/office/records/${type}/${id}`;
}

export const choicesOf = (hits: FoundRecord[]): Choice[] =>
  hits.map((h) => ({ key: `${h.type}/${h.id}`, type: h.type, title: h.title, detail: h.detail, slip: h.slip, to: pageOf(h.type, h.id) }));
