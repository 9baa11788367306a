import { describe, expect, it } from "vitest";
import { absenceText } from "./absence";
import { emptyWeek } from "./hours";
import { plainValue } from "./plainValue";

describe("values as people read them", () => {
  it.each([
    [null, ""],
    [0, "0"],
    [false, "false"],
    ["Key at the gatehouse", "Key at the gatehouse"],
    [["pumps", "diving"], "pumps · diving"],
    [[], ""],
    [[{ name: "Ruan Keast", role: "", phone: "+353 1 555 1000" }, { name: "Odo Brannel" }], "Ruan Keast, +353 1 555 1000 · Odo Brannel"],
    [[{ id: "leave", text: "Leave" }], "Leave"],
    [[emptyWeek("")], "Mon–Fri 08:00–16:30"],
    [[{ from: "2025-12-22", to: "2025-12-24", why: "Holidays" }], `${absenceText({ from: "2025-12-22", to: "2025-12-24" })} Holidays`],
  ])("writes %j", (value, want) => expect(plainValue(value)).toBe(want));
});
