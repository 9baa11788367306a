import base from "./playwright.config.js";

export default { ...base, testDir: "extra", testMatch: "bench.ts", timeout: 600_000 };
