/** A scanner that types like a keyboard: a code, then Enter, two milliseconds from key to key, however busy the machine is. */
import type { CDPSession, Page } from "@playwright/test";

const between = 0.002; // seconds

const sessions = new WeakMap<Page, CDPSession>();

export async function scan(page: Page, code: string) {
  const cdp = sessions.get(page) ?? (await page.context().newCDPSession(page));
  sessions.set(page, cdp);
  const began = Date.now() / 1000;
  const keys = [...code].map((text) => ({ key: text, text, unmodifiedText: text }));
  const enter = { key: "Enter", code: "Enter", windowsVirtualKeyCode: 13, text: "\r", unmodifiedText: "\r" };
  for (const [i, key] of [...keys, enter].entries()) {
    await cdp.send("Input.dispatchKeyEvent", { type: "keyDown", timestamp: began + i * between, ...key });
    await cdp.send("Input.dispatchKeyEvent", { type: "keyUp", timestamp: began + (i + 0.5) * between, key: key.key });
  }
}
