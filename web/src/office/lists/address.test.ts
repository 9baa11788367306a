import { expect, test } from "vitest";
import { asking, queryOf, withFilter } from "./address";

test("what is asked of a list comes back from its address", () => {
  const all = { q: "low flow", where: [{ column: "state", in: ["open", "back"] }], sort: "-promise", page: 3, by: "customer", columns: ["number", "state"] };
  expect(asking(queryOf(all))).toEqual(all);
  expect(queryOf(asking(new URLSearchParams())).toString()).toBe("");
});

test("an address that can't be read asks for all", () => {
  for (const where of ["{", "null", '"x"', "[1, null]"]) expect(asking(new URLSearchParams({ where, page: "-2" }))).toMatchObject({ where: [], page: 0 });
});

test("a column has one filter, and one that asks for nothing is none", () => {
  const one = withFilter([], { column: "state", in: ["open"] });
  expect(withFilter(one, { column: "state", in: ["back"] })).toEqual([{ column: "state", in: ["back"] }]);
  expect(withFilter(one, { column: "state", in: [] })).toEqual([]);
});
