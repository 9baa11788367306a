import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Mark } from "../types";
import { price } from "./format";
import { Drawn, Marks } from "./Marks";
import { Trend } from "./Trend";

const drawn = (m: Partial<Mark>) => renderToStaticMarkup(<Drawn mark={{ form: "line", points: [100, 200, 300, 400], colour: "signal", ...m }} />);

describe("a mark on a photo", () => {
  it.each([
    ["line", /<line x1="100" y1="200" x2="300" y2="400"/],
    ["box", /<rect x="100" y="200" width="200" height="200"/],
    ["free", /<polyline points="100,200 300,400"/],
    ["arrow", /<g[^>]*><line [^>]*\/?>.*<polyline/],
  ] as [Mark["form"], RegExp][])("%s", (form, want) => expect(drawn({ form })).toMatch(want));
  it("is a box whichever corner was drawn first", () =>
    expect(drawn({ form: "box", points: [300, 400, 100, 200] })).toMatch(/x="100" y="200" width="200" height="200"/));
  it("has words as they were typed", () => expect(drawn({ form: "words", points: [1, 2], text: "<b>weeps</b>" })).toContain("&lt;b&gt;weeps"));
  it("of an unknown colour or form is still something that can be seen, or nothing", () => {
    expect(drawn({ colour: "puce" })).toContain("#e4002b");
    expect(drawn({ form: "cloud" as Mark["form"] })).toBe("");
  });
  it("is laid over a photo of any shape", () => expect(renderToStaticMarkup(<Marks marks={[]} shape={0.75} />)).toContain('viewBox="0 0 10000 7500"'));
});

describe("a trend", () => {
  const limits = { warnLow: "3", alarmLow: "2.5", warnHigh: "6", alarmHigh: "400" };
  const html = (values: string[], l = {}) => renderToStaticMarkup(<Trend values={values} limits={l} now />);
  it("needs two values", () => {
    expect(html([])).toBe("");
    expect(html(["4"])).toBe("");
    expect(html(["4", "lots"])).toBe("");
  });
  it("has a point for each", () =>
    expect(
      html(["4", "4.5", "5"])
        .match(/points="([^"]*)"/)?.[1]
        .split(" "),
    ).toHaveLength(3));
  it("puts the higher value higher", () => {
    const ys = html(["1", "3", "2"])
      .match(/points="([^"]*)"/)![1]
      .split(" ")
      .map((p) => Number(p.split(",")[1]));
    expect(ys[1]).toBeLessThan(ys[2]);
    expect(ys[2]).toBeLessThan(ys[0]);
  });
  it("shows limits that are near, not one that would flatten it", () => expect(html(["4", "5"], limits).match(/<line/g)).toHaveLength(3));
  it("stands equal values on one line", () => expect(html(["4", "4"])).not.toContain("NaN"));
});

describe("a price", () => {
  it.each([
    ["1234.5", "EUR", "€1,234.50"],
    ["-3", "GBP", "-£3.00"],
    ["2", "??", "2 ??"],
  ])("%s %s", (amount, currency, want) => expect(price(amount, currency)).toBe(want));
});
