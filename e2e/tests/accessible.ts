/** Whether everybody can use what is on a page. */
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import type { Page } from "@playwright/test";

const checker = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

/** The rules that are looked at: those of WCAG 2.2 up to AA, or named ones. */
const wcag = { type: "tag", values: ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"] };

interface Checker {
  run: (within: string, how: object) => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }>;
}

/**
 * What of a page can't be read for want of contrast, where all else of it was looked at on another ground: a part for each way in which text is drawn
 * on it, since the colours alone are others.
 */
export async function faint(page: Page, within = "html"): Promise<string[]> {
  await page.evaluate((within) => {
    const seen = new Set<string>();
    for (const e of document.querySelectorAll<HTMLElement>(`${within} *`)) {
      e.removeAttribute("data-look");
      if (![...e.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.textContent?.trim()) && !(e as HTMLInputElement).placeholder) continue;
      const own = getComputedStyle(e);
      const look = [own.color, own.fontSize, own.fontWeight, e.tagName];
      for (let up: HTMLElement | null = e; up; up = up.parentElement) {
        const s = getComputedStyle(up);
        look.push(s.backgroundColor, s.backgroundImage, s.opacity);
        if (!/, 0\)$/.test(s.backgroundColor)) break;
      }
      const key = look.join("|");
      if (!seen.has(key)) e.dataset.look = "";
      seen.add(key);
    }
  }, within);
  return (await page.locator("[data-look]").count()) > 0 ? wrongs(page, "[data-look]", ["color-contrast"]) : [];
}

/** What is wrong on a page, a line for each rule with the first part that breaks it. The checker is put into a page once, and says nothing of what is right. */
export async function wrongs(page: Page, within = "html", rules?: string[]): Promise<string[]> {
  if (!(await page.evaluate(() => "axe" in globalThis))) await page.evaluate(checker);
  return page.evaluate(
    async ([within, runOnly]) => {
      const { violations } = await (globalThis as unknown as { axe: Checker }).axe.run(within as string, {
        runOnly,
        resultTypes: ["violations"],
        iframes: false,
      });
      return violations.map((v) => `${v.id}: ${v.nodes[0].html}`);
    },
    [within, rules ? { type: "rule", values: rules } : wcag] as const,
  );
}
