/** What a signer is shown, with the real core. */
import "fake-indexeddb/auto";
import { beforeAll, expect, it } from "vitest";
import { DeviceDB } from "../../device/db";
import { loadRealCore } from "../../device/realCore";
import { record } from "../../device/record";
import { stored } from "../../device/tables";
import { toSign } from "./useTogether";

beforeAll(loadRealCore);

it("has what was tapped a moment before, which no screen shows yet", async () => {
  const db = new DeviceDB("ann");
  await db.shown.bulkPut(
    [
      { type: "workorder", id: "W1", body: { number: "W-1", customer: "C1", site: "S1", problem: "Leaks", visits: ["V1"] } },
      { type: "visit", id: "V1", body: { order: "W1", technician: "ann", start: "2026-03-10T08:00:00Z", minutes: 60, stage: "on_site" } },
    ].map((d) => stored({ ...d, rev: 1 })),
  );
  const tapped = record(db, { kind: "note.written", subject: { type: "visit", id: "V1" }, body: { text: "Left running." } });
  const { own, others } = await toSign(db, "ann", "V1", "");
  expect(own.summary.notes).toEqual(["Left running."]);
  expect(others).toEqual([]);
  await tapped;
});
