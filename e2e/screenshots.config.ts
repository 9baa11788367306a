import base from "./playwright.config.js";

export default { ...base, testDir: "extra", testMatch: "screenshots.ts", timeout: 300_000 };
