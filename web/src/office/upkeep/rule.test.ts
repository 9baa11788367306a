import { beforeAll, describe, expect, it } from "vitest";
import { setZone } from "../../ui/format";
import { blankRule, readRule, ruleWords, writeRule } from "./rule";

beforeAll(() => setZone("Europe/Dublin"));

describe("rules of maintenance plans", () => {
  it.each([
    ["FREQ=MONTHLY;INTERVAL=3", "every 3 months"],
    ["FREQ=DAILY", "every day"],
    ["FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH", "every 2 weeks on Monday and Thursday"],
    ["FREQ=MONTHLY;BYDAY=2TU", "every month on the second Tuesday"],
    ["FREQ=MONTHLY;BYDAY=-1FR;BYMONTH=5,9", "every month on the last Friday in May and September"],
    ["FREQ=YEARLY", "every year"],
  ])("%s is read, said and written as it was", (text, words) => {
    const rule = readRule(text);
    expect(rule && writeRule(rule)).toBe(text);
    expect(ruleWords({ rule: text })).toBe(words);
  });
  it.each(["FREQ=MONTHLY;BYMONTHDAY=15", "FREQ=YEARLY;BYDAY=1MO", "FREQ=MONTHLY;BYDAY=MO", "every now and then"])("%s is more than the form has", (text) => {
    expect(readRule(text)).toBeUndefined();
    expect(ruleWords({ rule: text })).toBe(text);
  });
  it("says how it is counted", () => {
    expect(ruleWords({ rule: "FREQ=YEARLY", fromLast: true })).toBe("every year, from when it was done last");
    expect(ruleWords({ rule: "FREQ=YEARLY", fromLast: true, counter: { point: "hours", every: "2000" } })).toBe(
      "every year / every 2000 by the counter, whichever comes first",
    );
    expect(ruleWords({ counter: { point: "hours", every: "500" } })).toBe("every 500 by the counter");
  });
  it("writes nothing of what another unit has", () => {
    expect(writeRule({ ...blankRule, unit: "DAILY", days: ["MO"], nth: "2" })).toBe("FREQ=DAILY;INTERVAL=3");
  });
});
