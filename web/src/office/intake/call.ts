/** A call: who rings, from where, what is wrong, by when. What it comes to is commands that are recorded together. */
import { ulid } from "ulid";
import type { Asset, Caller, Contact, Customer, Document, EntryDraft, MapPoint, Need, Priority, Site, WorkOpened } from "../../types";
import { typedNumber } from "../../ui/decimal";
import { isTime, moment } from "../../ui/format";
import { promiseOf } from "../promise";

/** The choice of something that is not in the records yet. */
export const made = "new";

export const blank = {
  /** who it is: "type/id" of a record, "new", or "" while nobody is chosen */
  caller: "",
  name: "",
  phone: "",
  contact: "",
  address: "",
  /** an id, "new" or "" */
  site: "",
  siteName: "",
  siteAddress: "",
  /** where it is, when that was looked up or put on the map */
  siteAt: undefined as MapPoint | undefined,
  siteAccess: "",
  asset: "",
  assetName: "",
  assetKind: "",
  assetSerial: "",
  problem: "",
  tasks: "",
  instruction: "",
  theirs: "",
  kind: "",
  trouble: "",
  priority: "soon" as Priority,
  urgency: "" as Priority | "",
  skills: [] as string[],
  /** "" for one */
  crew: "",
  things: [] as string[],
  needs: [] as Need[],
  /** none: as the rules say */
  sheets: undefined as string[] | undefined,
  /** papers and photos that the caller sent, by hash */
  documents: {} as Record<string, Document>,
  day: "",
  from: "",
  to: "",
  /** by when the work is promised to be done, as a moment; "" where that is not */
  doneBy: "",
  /** when it suits the caller: weekdays as digits (0 is Sunday; "" for any), and times of day */
  suitDays: "",
  suitAfter: "",
  suitBefore: "",
  minutes: "60",
  /** ids of what is made: the same at each press, also after the page was loaded anew */
  ids: { order: "", customer: "", site: "", asset: "" },
};

export type Call = typeof blank;

/** Nobody and nowhere: what is said of the work stays when it turns out to be for somebody else. */
export const nobody: Partial<Call> = Object.fromEntries(
  (
    [
      "caller",
      "name",
      "phone",
      "contact",
      "address",
      "site",
      "siteName",
      "siteAddress",
      "siteAt",
      "siteAccess",
      "asset",
      "assetName",
      "assetKind",
      "assetSerial",
    ] as const
  ).map((name) => [name, blank[name]]),
);

/** Who it is, in a call of its own: with new ids. */
export const begun = (is: Partial<Call>): Partial<Call> => ({ ...nobody, ...is, ids: { order: ulid(), customer: ulid(), site: ulid(), asset: ulid() } });

/** Whether something was said of the work. */
export const said = (call: Call) =>
  [call.problem, call.tasks, call.instruction, call.theirs, call.name, call.assetName].some((text) => text.trim() !== "") ||
  Object.keys(call.documents).length > 0;

/** What stays for the next trouble of the same caller. */
export const nextTrouble = ({ caller, site, ids }: Call): Partial<Call> => ({
  ...blank,
  ...begun({ caller: caller === made ? `customer/${ids.customer}` : caller, site: site === made ? ids.site : site }),
});

/** How many people work takes, as it is recorded: nothing for one. */
export const crewOf = (typed: string) => (Number(typed) > 1 ? Math.round(Number(typed)) : undefined);

export const minutesOf = (call: Call) => Math.round(Number(call.minutes));

/** What is promised, and whether a time is none on its day. */
export function promised(call: Call, today: string) {
  const on = call.day || today;
  const none = (hm: string) => hm !== "" && !isTime(on, hm);
  return { ...promiseOf(call.day, call.from, call.to), noTime: none(call.from) || none(call.to) };
}

/** The longest text of a problem or an instruction, in characters, as the core has it. */
export const longest = 5000;

/** What is still missing, or can't be, by the names of words; undefined when nothing is. */
export function missing(call: Call): "caller" | "site" | "asset" | "problem" | "long" | "promise" | "minutes" | undefined {
  if (call.caller === "" || (call.caller === made && !call.name.trim())) return "caller";
  if (call.site === "" || (call.site === made && !call.siteName.trim() && call.caller !== made)) return "site";
  if (call.asset === made && !call.assetName.trim()) return "asset";
  if (!call.problem.trim()) return "problem";
  if ([...call.problem.trim()].length > longest || [...call.instruction.trim()].length > longest) return "long";
  const { from, to } = promiseOf(call.day, call.from, call.to);
  if (from && to && from > to) return "promise";
  return minutesOf(call) >= 1 && minutesOf(call) <= 20160 ? undefined : "minutes";
}

const text = (s: string) => s.trim() || undefined;

/** The commands of a call: whoever and whatever is new, and the work order. */
export function entriesOf(call: Call, known: Caller | undefined): EntryDraft[] {
  const { ids } = call;
  const out: EntryDraft[] = [];
  const created = (type: "customer" | "site" | "asset", body: object) => out.push({ kind: "record.created", subject: { type, id: ids[type] }, body });
  const customer = call.caller === made ? ids.customer : (known?.id ?? "");
  const contact: Contact = { name: call.contact.trim(), phone: text(call.phone) };
  if (call.caller === made) created("customer", { name: call.name.trim(), address: text(call.address), contact } satisfies Customer);
  const site = call.site === made ? ids.site : call.site;
  if (call.site === made)
    created("site", {
      customer,
      name: call.siteName.trim() || call.name.trim(),
      address: text(call.siteAddress) ?? text(call.address),
      ...call.siteAt,
      access: text(call.siteAccess),
      contact: call.caller === made ? contact : { name: "" },
    } satisfies Site);
  const asset = call.asset === made ? ids.asset : call.asset;
  if (call.asset === made) created("asset", { site, name: call.assetName.trim(), kind: call.assetKind, serial: text(call.assetSerial) } satisfies Asset);
  const { from, to } = promiseOf(call.day, call.from, call.to);
  const order: WorkOpened = {
    customer,
    site,
    asset: asset || undefined,
    problem: call.problem.trim(),
    priority: call.priority,
    urgency: call.urgency || undefined,
    minutes: minutesOf(call),
    promiseFrom: from && moment(from),
    promiseTo: to && moment(to),
    doneBy: call.doneBy || undefined,
    kind: call.kind || undefined,
    trouble: call.trouble || undefined,
    skills: call.skills,
    crew: crewOf(call.crew),
    things: call.things,
    needs: call.needs.map((n) => ({ ...n, quantity: typedNumber(n.quantity) })),
    sheets: call.sheets,
    instruction: text(call.instruction),
    theirs: text(call.theirs),
    documents: call.documents,
    tasks: call.tasks
      .split("\n")
      .map((name) => name.trim())
      .filter(Boolean)
      .map((name, i) => ({ id: `t${i + 1}`, name })),
  };
  return [...out, { kind: "work.opened", subject: { type: "workorder", id: ids.order }, body: order }];
}
