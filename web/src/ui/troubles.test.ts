import { expect, it } from "vitest";
import { matching, offered, pathText, type Tree } from "./troubles";

const tree: Tree = [
  { id: "flow", kind: "trouble", text: "No flow" },
  { id: "noise", kind: "trouble", text: "Noise", assets: ["pump"] },
  { id: "seized", parent: "flow", kind: "cause", text: "Bearing seized" },
  { id: "worn", parent: "noise", kind: "cause", text: "Bearing worn" },
  { id: "power", kind: "cause", text: "No power" },
  { id: "old", parent: "flow", kind: "cause", text: "Valve shut", retired: true },
  { id: "swapped", parent: "seized", kind: "remedy", text: "Bearing replaced" },
];
const ids = (t: Tree) => t.map((n) => n.id);

it("offers what hangs under what was said first, then what hangs under nothing else", () => {
  expect(ids(offered(tree, "cause", undefined, "flow"))).toEqual(["seized", "power"]);
  expect(ids(offered(tree, "cause", undefined, "noise"))).toEqual(["worn", "power"]);
  expect(ids(offered(tree, "cause"))).toEqual(["seized", "worn", "power"]);
  expect(ids(offered(tree, "remedy", undefined, "seized"))).toEqual(["swapped"]);
});

it("leaves out what is of other machines, and what is no longer said", () => {
  expect(ids(offered(tree, "trouble", "boiler"))).toEqual(["flow"]);
  expect(ids(offered(tree, "trouble", "pump"))).toEqual(["flow", "noise"]);
  expect(ids(offered(tree, "cause", "boiler"))).toEqual(["seized", "power"]);
});

it("finds by any word of the way, and says what it knows of what is no more", () => {
  expect(ids(matching(tree, tree, "bear flow"))).toEqual(["seized", "swapped"]);
  expect(pathText(tree, "swapped")).toBe("No flow › Bearing seized › Bearing replaced");
  expect(pathText(tree, "gone")).toBe("gone");
});
