/** Machines that report by themselves: rules are kept, a pump drifts, one order opens with its curve, somebody gets it, and the machine recovers. */
import { expect, type Page } from "@playwright/test";
import { wrongs } from "./accessible.js";
import { go, Program, test } from "./program.js";

const program = new Program();

test.beforeAll(() => program.start());
test.afterAll(() => program.remove());

interface Place {
  site: string;
  name: string;
  assets: { id: string; name: string }[];
}

/** A site with a booster set, of a firm that has some. */
async function placeWithBooster(page: Page): Promise<Place & { booster: string }> {
  return page.evaluate(async () => {
    for (const q of ["distillers", "care", "dairy", "pump"]) {
      for (const c of await (await fetch(`/api/office/customers?q=${q}`)).json())
        for (const s of c.sites)
          for (const a of s.assets) if (a.name.startsWith("Booster")) return { site: s.id, name: s.site.name, assets: s.assets, booster: a.id };
    }
    throw new Error("no booster");
  });
}

/** What a machine reports, some minutes ago. */
async function report(key: string, machine: string, point: string, values: [minutesAgo: number, value: number][]) {
  const list = values.map(([ago, value]) => ({ machine, point, value, at: new Date(Date.now() - ago * 60_000).toISOString() }));
  const answer = await fetch(`${program.url}/api/signals`, {
    method: "POST",
    headers: { Authorization: `Bearer ${key}`, "Content-Type": "application/json" },
    body: JSON.stringify(list),
  });
  expect(answer.status).toBe(200);
  return answer.json();
}

test("a pump drifts, one order opens with its curve, a technician gets it by suggestion, and the machine recovers", async ({ page }) => {
  await program.office(page, "/office/setup/signals", "petrok");
  const { name, booster } = await placeWithBooster(page);
  await page.getByRole("button", { name: "New source" }).click();
  const drawer = page.getByRole("dialog");
  await drawer.getByLabel("Name", { exact: true }).fill("Still house controller");
  await drawer.getByLabel("Find a site").fill(name);
  await drawer.locator("button.choice").first().click();
  await drawer.getByRole("button", { name: "Make the source" }).click();
  const key = (await page.locator("code").textContent()) ?? "";
  expect(key.length).toBeGreaterThan(20);
  await page.getByRole("button", { name: "I have it" }).click();
  await expect(page.getByRole("region", { name: "Sources" })).toContainText("Still house controller");

  // A rule that can never be so is refused in words, and what is typed stays.
  await page.getByRole("button", { name: "New rule: Booster set" }).click();
  await drawer.getByLabel("What is wrong then").fill("Suction pressure is low");
  await drawer.getByLabel("Limit", { exact: true }).fill("100");
  await drawer.getByRole("button", { name: "Save" }).click();
  await expect(drawer.getByRole("alert")).toContainText("That can never be so");
  await drawer.getByLabel("Limit", { exact: true }).fill("9");
  expect(await wrongs(page)).toEqual([]);
  await drawer.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("region", { name: "Rules, by kind of machine" })).toContainText("Suction pressure above 9 bar");

  await report(key, booster, "vibration", [
    [30, 2.4],
    [20, 3.1],
    [10, 5.8],
    [5, 7.4],
    [4, 7.9],
    [3, 8.3],
    [2, 8.4],
  ]);
  const text = "Vibration past its limit: look at bearings and coupling";
  await go(page, "/office");
  const waits = page.locator(".to-place li", { hasText: text }).filter({ hasText: name });
  await expect(waits).toHaveCount(1);
  await waits.getByRole("button").first().click();
  await page.locator(".fits button").first().click(); // a technician gets it by suggestion
  await expect(waits).toHaveCount(0);
  await expect(page.getByRole("region", { name: "Chosen visit" })).toContainText(text);
  await page.getByRole("region", { name: "Chosen visit" }).getByRole("link", { name: "Open the visit" }).click();
  await page
    .getByRole("link", { name: /^Work order/ })
    .first()
    .click();
  await expect(page.getByText(/The machine reports it: Vibration, since/)).toBeVisible();
  await expect(page.locator("figure svg")).toBeVisible();

  await report(key, booster, "vibration", [
    [1, 6],
    [0.5, 4.2],
  ]);
  await expect(page.getByText(/well again since/)).toBeVisible();
  await go(page, `/office/records/asset/${booster}`);
  const reports = page.getByRole("region", { name: "What it reports" });
  await expect(reports).toContainText("Vibration");
  await expect(reports).toContainText("4.2 mm/s");
  await expect(reports.getByText(/well again since/)).toBeVisible();
  expect(await wrongs(page)).toEqual([]);

  // What the office is to look at stands on Waiting until somebody says what came of it.
  await report(key, booster, "discharge", [
    [9, 2.1],
    [6, 2.0],
    [3, 2.0],
  ]);
  await go(page, "/office/home");
  await page.getByRole("link", { name: /Discharge pressure is low/ }).click();
  await reports.getByLabel("What came of it").fill("A valve was shut");
  await reports.getByRole("button", { name: "It is seen to" }).click();
  await expect(reports).toContainText("A valve was shut");
  await go(page, "/office/home");
  await expect(page.getByRole("link", { name: /Discharge pressure is low/ })).toHaveCount(0);

  await go(page, "/office/setup/signals");
  await page.getByRole("button", { name: "End it" }).first().click();
  await page.getByRole("dialog").getByRole("button", { name: "End it" }).click();
  await expect(page.getByRole("region", { name: "Sources" })).toContainText("ended");
  const refused = await fetch(`${program.url}/api/signals`, { method: "POST", headers: { Authorization: `Bearer ${key}` }, body: "[]" });
  expect(refused.status).toBe(401);
});
