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
