import { existsSync } from "node:fs";
import { defineConfig } from "@playwright/test";

export const chromium = {
  executablePath: process.env.CHROMIUM ?? ["/usr/bin/chromium-headless-shell", "/usr/bin/chromium"].find(existsSync),
  args: [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
  ],
};

/**
 * The company's time zone in the tests: one where the tests begin at eleven and some minutes, whenever that is. At midnight the demo's day
 * has hardly begun, or is over when a test looks at it. Of the workers the first process decides.
 */
process.env.ZONE ??= zoneAtEleven();
export const zone = process.env.ZONE;

function zoneAtEleven() {
  const east = 11 - new Date().getUTCHours();
  return east === 0 ? "Etc/GMT" : `Etc/GMT${east > 0 ? "-" : "+"}${Math.abs(east)}`; // the sign is the other way round in these names
}

export default defineConfig({
  testDir: "tests",
  globalSetup: "./tests/template.ts",
  outputDir: ".tmp/results",
  workers: 2,
  timeout: 300_000,
  retries: 0,
  expect: { timeout: 30_000 },
  reporter: [["list"]],
  use: {
    actionTimeout: 30_000,
    launchOptions: chromium,
    contextOptions: { reducedMotion: "reduce" }, // what moves is drawn many times over, and waited for
    locale: "en-GB",
    timezoneId: zone,
    trace: "off",
  },
});
