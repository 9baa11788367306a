import { expect, it } from "vitest";
import { guidanceTo } from "./guidance";

it.each([
  ["Mozilla/5.0 (Linux; Android 15)", "geo:54.8,-9.2?q=54.8,-9.2(Quay%20%26%20Co)"],
  ["Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X)", "maps:?daddr=54.8,-9.2"],
  ["Mozilla/5.0 (X11; Linux x86_64)", "geo:54.8,-9.2?q=54.8,-9.2(Quay%20%26%20Co)"],
])("opens the route guidance of %s", (agent, address) => {
  expect(guidanceTo({ name: "Quay & Co", lat: 54.8, lon: -9.2 }, agent)).toBe(address);
});
