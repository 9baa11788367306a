import { describe, expect, it } from "vitest";
import { addressOf } from "./api";

describe("an address", () => {
  it.each([
    ["/api/me", undefined, "/api/me"],
    ["/api/office/visits/:id", { id: "V 1/2" }, "/api/office/visits/V%201%2F2"],
    ["/api/office/records/:type/:id", { type: "site", id: "S1" }, "/api/office/records/site/S1"],
    ["/api/a/:id/:idea", { idea: "$&", id: "1" }, "/api/a/1/%24%26"],
    ["/api/office/hours", { from: "2026-03-01", to: "2026-03-31" }, "/api/office/hours?from=2026-03-01&to=2026-03-31"],
    ["/api/office/stores/requests", { over: false }, "/api/office/stores/requests"],
    ["/api/office/stores/requests", { over: true, day: "", of: undefined }, "/api/office/stores/requests?over=true"],
    ["/api/office/customers", { q: "a&b" }, "/api/office/customers?q=a%26b"],
  ] as const)("%s %j", (path, args, address) => expect(addressOf(path, args)).toBe(address));
});
