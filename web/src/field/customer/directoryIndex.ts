/** Finds customers, sites and machines in the directory that a device keeps. */
import { WordIndex, words } from "../../catalogue/wordIndex";
import type { KeptDirectory } from "../../device/directory";
import type { Doc } from "../../types";

/** Somewhere that work may be: a customer, a site of theirs, or a machine there. */
export interface Place {
  type: "customer" | "site" | "asset";
  id: string;
  name: string;
  /** what stands beside the name */
  line: string;
  customer: string;
  /** of a customer: the only one they have */
  site?: string;
  asset?: string;
}

/** How many are listed at once. */
export const most = 30;

const joined = (...texts: (string | undefined)[]) => texts.filter(Boolean).join(" · ");

/** The digits of a telephone number as one word, however it is spelled. */
const digits = (phone: string) => phone.replace(/\D/g, "");

export class DirectoryIndex {
  private readonly places: Place[] = [];
  private readonly index: WordIndex;
  private readonly customerRow: Map<string, number>;

  constructor(private readonly kept: KeptDirectory) {
    const { customers, sites, assets } = kept;
    const lines: string[][] = [];
    const add = (place: Place, ...texts: string[]) => {
      this.places.push(place);
      lines.push(words([place.name, ...texts].join(" ")));
    };
    this.customerRow = new Map(customers.id.map((id, i) => [id, i]));
    const count = new Map<number, number>();
    for (const row of sites.customer) count.set(row, (count.get(row) ?? 0) + 1);
    const only = new Map(sites.customer.flatMap((row, i) => (count.get(row) === 1 ? [[row, sites.id[i]]] : [])));
    customers.id.forEach((id, i) => {
      add({ type: "customer", id, name: customers.name[i], line: customers.phone[i], customer: id, site: only.get(i) }, digits(customers.phone[i]));
    });
    sites.id.forEach((id, i) => {
      const customer = customers.name[sites.customer[i]];
      const line = joined(sites.name[i] === customer ? "" : customer, sites.address[i]);
      add({ type: "site", id, name: sites.name[i], line, customer: customers.id[sites.customer[i]], site: id }, line, digits(sites.phone[i]));
    });
    assets.id.forEach((id, i) => {
      const at = assets.site[i];
      const line = joined(assets.serial[i], sites.name[at]);
      const customer = sites.customer[at];
      add({ type: "asset", id, name: assets.name[i], line, customer: customers.id[customer], site: sites.id[at], asset: id }, line, customers.name[customer]);
    });
    this.index = new WordIndex(lines);
  }

  /** What matches all words, the best first. */
  find(text: string): Place[] {
    const number = digits(text);
    const typed = number.length >= 6 && /^[\d\s+()./-]+$/.test(text) ? number.slice(-8) : text; // a telephone number is one word, whatever its country
    return words(typed).length === 0 ? [] : this.index.find(typed, { limit: most }).map((at) => this.places[at]);
  }

  /** A customer with the sites and machines that are known of; undefined when they are not in the directory. */
  customer(
    id: string,
  ): { name: string; phone: string; sites: { id: string; name: string; address: string; assets: { id: string; name: string }[] }[] } | undefined {
    const row = this.customerRow.get(id);
    if (row === undefined) return undefined;
    const { customers, sites, assets } = this.kept;
    const at = sites.customer.flatMap((c, i) => (c === row ? [i] : []));
    return {
      name: customers.name[row],
      phone: customers.phone[row],
      sites: at.map((i) => ({
        id: sites.id[i],
        name: sites.name[i],
        address: sites.address[i],
        assets: assets.site.flatMap((s, k) => (s === i ? [{ id: assets.id[k], name: assets.name[k] }] : [])),
      })),
    };
  }

  /** The records of a customer, their sites and machines, as far as the directory knows them: what is recorded about them needs them. */
  records(customer: string): Doc[] {
    const c = this.customer(customer);
    if (!c) return [];
    const doc = (type: string, id: string, body: object): Doc => ({ type, id, rev: 0, body });
    return [
      doc("customer", customer, { name: c.name, contact: { name: "", phone: c.phone } }),
      ...c.sites.flatMap((s) => [
        doc("site", s.id, { customer, name: s.name, address: s.address, contact: { name: "" } }),
        ...s.assets.map((a) => doc("asset", a.id, { site: s.id, name: a.name, kind: "" })),
      ]),
    ];
  }
}
