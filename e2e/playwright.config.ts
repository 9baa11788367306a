import { defineConfig } from "@playwright/test";

export const chromium = {
  executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
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

export default defineConfig({
  testDir: "tests",
  globalSetup: "./tests/template.ts",
  outputDir: ".tmp/results",
  workers: 2,
  timeout: 300_000,
  retries: 0,
  expect: { timeout: 30_000 },
  reporter: [["list"]],
  use: { actionTimeout: 30_000, launchOptions: chromium, locale: "en-GB", timezoneId: "Europe/Dublin", trace: "off" },
});
