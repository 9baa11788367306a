import base from "./playwright.config.js";

export default { ...base, testDir: "extra", testMatch: "monkey.ts", timeout: 0 };
