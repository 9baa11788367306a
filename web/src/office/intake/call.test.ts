import { expect, it } from "vitest";
import type { Caller } from "../../types";
import { blank, type Call, entriesOf, missing, nextTrouble } from "./call";

const ids = { order: "o", customer: "c", site: "s", asset: "a" };
const known = { id: "C1", customer: { name: "Dairy", contact: { name: "" } }, sites: [], open: [], more: 0 } as Caller;
const call = (is: Partial<Call>): Call => ({ ...blank, problem: "No water", ids, ...is });
const kinds = (c: Call, who?: Caller) => entriesOf(c, who).map((e) => `${e.kind} ${e.subject.type}/${e.subject.id}`);

it("makes whoever and whatever is new, together with the order", () => {
  const c = call({ caller: "new", name: " Brook Farm ", phone: "555", site: "new", asset: "new", assetName: "Well pump", tasks: "Look\n\n Prime it " });
  expect(kinds(c)).toEqual(["record.created customer/c", "record.created site/s", "record.created asset/a", "work.opened workorder/o"]);
  const [customer, site, asset, order] = entriesOf(c, undefined).map((e) => e.body as Record<string, unknown>);
  expect(customer).toMatchObject({ name: "Brook Farm", contact: { phone: "555" } });
  expect(site).toMatchObject({ customer: "c", name: "Brook Farm" });
  expect(asset).toMatchObject({ site: "s", name: "Well pump" });
  expect(order).toMatchObject({
    customer: "c",
    site: "s",
    asset: "a",
    tasks: [
      { id: "t1", name: "Look" },
      { id: "t2", name: "Prime it" },
    ],
  });
});

it("takes what is known as it is", () => {
  expect(kinds(call({ caller: "site/S1", site: "S1", asset: "A1" }), known)).toEqual(["work.opened workorder/o"]);
  expect(entriesOf(call({ caller: "site/S1", site: "S1" }), known)[0].body).toMatchObject({ customer: "C1", site: "S1", asset: undefined });
  expect(kinds(call({ caller: "customer/C1", site: "new", siteName: "Weir" }), known)).toEqual(["record.created site/s", "work.opened workorder/o"]);
});

it.each([
  ["caller", {}],
  ["caller", { caller: "new", name: " " }],
  ["site", { caller: "customer/C1" }],
  ["site", { caller: "customer/C1", site: "new" }],
  [undefined, { caller: "new", name: "Brook Farm", site: "new" }],
  ["asset", { caller: "customer/C1", site: "S1", asset: "new" }],
  ["problem", { caller: "customer/C1", site: "S1", problem: " " }],
  ["minutes", { caller: "customer/C1", site: "S1", minutes: "0" }],
  ["minutes", { caller: "customer/C1", site: "S1", minutes: "x" }],
  [undefined, { caller: "customer/C1", site: "S1" }],
] as [string | undefined, Partial<Call>][])("lacks %s", (want, is) => {
  expect(missing(call(is))).toBe(want);
});

it("keeps who calls and from where for the next trouble, which is another order", () => {
  const next = nextTrouble(call({ caller: "new", name: "Brook Farm", site: "new" }));
  expect(next).toMatchObject({ ...blank, caller: "customer/c", site: "s", ids: expect.anything() });
  expect(next.ids?.order).not.toBe(ids.order);
  expect(nextTrouble(call({ caller: "asset/A1", asset: "A1", site: "S1" }))).toMatchObject({ caller: "asset/A1", site: "S1", asset: "", problem: "" });
});
