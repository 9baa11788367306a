import { describe, expect, it } from "vitest";
import type { Board } from "../../types";
import { setZone } from "../../ui/format";
import { scaleOf } from "./scale";
import { heldOn, withOne } from "./useAim";

setZone("UTC");
const day = scaleOf("2026-11-30");
const visit = (id: string, start: string, stage = "sent", minutes = 60) => ({ id, start, stage, minutes });
const stop = (id: string) => ({ id, length: 600 });
const board = {
  people: [
    { id: "ann", visits: [] },
    {
      id: "ben",
      visits: [
        visit("helped", "2026-11-30T09:00:00Z"),
        visit("long", "2026-11-30T10:00:00Z", "sent", 3 * 24 * 60),
        visit("older", "2026-11-29T10:00:00Z", "sent", 3 * 24 * 60),
        visit("begun", "2026-11-30T08:00:00Z", "on_site"),
        visit("declined", "2026-11-30T11:00:00Z", "declined"),
      ],
    },
  ],
  plan: {
    wants: [{ id: "order", length: 1800 }, stop("declined")],
    lanes: [
      { id: "ann", stops: [stop("helped")] },
      { id: "ben", stops: [stop("helped"), stop("long"), stop("older"), stop("begun")] },
    ],
  },
} as unknown as Board;

describe("what is taken hold of", () => {
  it.each([
    ["work that waits", "order", { length: 1800 }],
    ["a visit is its lead's, whoever comes along", "helped", { lane: "ben", begin: 9 * 3600, length: 3600 }],
    ["a visit over days, whole", "long", { lane: "ben", begin: 10 * 3600, length: 3 * 24 * 3600 }],
    ["one that was declined", "declined", { lane: "ben", begin: 11 * 3600, length: 3600 }],
    ["not one that begins on another day", "older", undefined],
    ["nor one that has begun", "begun", undefined],
    ["nor what is not there", "nothing", undefined],
  ])("%s", (_, id, expected) => {
    const held = heldOn(board, day, id);
    if (expected) expect(held).toMatchObject(expected);
    else expect(held).toBeUndefined();
  });
});

it("a thing goes along once, beside what goes along already", () => {
  expect(withOne(undefined, "boat")).toEqual(["boat"]);
  expect(withOne(["rig", "boat"], "boat")).toEqual(["rig", "boat"]);
});
