/** The office's lists: narrowed, grouped, kept as a view, written to a file, many changed at once. */
import { readFileSync } from "node:fs";
import { expect } from "@playwright/test";
import { go, Program, signIn, test } from "./program.js";

const program = new Program();

test.beforeAll(async () => {
  await program.start();
});

test.afterAll(async () => {
  await program.remove();
});

test("a list is narrowed, grouped, kept as a view that others see, and written to a file", async ({ page, browser }) => {
  await program.office(page, "/office/lists/orders");
  const lines = page.getByRole("grid", { name: "Work orders" });
  const count = page.getByText(/^\d+ lines?/);
  const all = Number.parseInt((await count.textContent())!, 10);
  expect(all).toBeGreaterThan(20);

  await page.getByLabel("Words in it").fill("pres sure");
  await expect.poll(async () => Number.parseInt((await count.textContent())!, 10)).toBeLessThan(all);
  await page.getByRole("button", { name: "Narrow by …" }).click();
  await page.getByRole("menuitem", { name: "State" }).click();
  await page.getByRole("checkbox", { name: /^closed/ }).check();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "State closed" })).toBeVisible();
  await page.getByRole("button", { name: "Columns" }).click();
  await page.getByRole("checkbox", { name: "Priority" }).uncheck();
  await page.getByRole("combobox", { name: "Group by" }).click();
  await page.getByRole("option", { name: "Site" }).click();
  await page.keyboard.press("Escape");
  await expect(lines.getByRole("columnheader", { name: "Priority" })).toHaveCount(0);
  const groups = page.getByRole("navigation", { name: "Grouped by Site" });
  const second = groups.getByRole("button").nth(1);
  const inIt = (await second.locator("b").textContent())!;
  await second.click();
  await expect(count).toContainText(new RegExp(`^${inIt} line`));
  await groups.getByRole("button", { name: /^All/ }).click();

  await page.getByRole("button", { name: "Views" }).click();
  await page.getByRole("menuitem", { name: /Keep this view/ }).click();
  await page.getByLabel("What it is called").fill("Pressure, done");
  await page.getByRole("combobox", { name: "Who sees it" }).click();
  await page.getByRole("option", { name: "All at the office" }).click();
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("button", { name: "View: Pressure, done" })).toBeVisible();

  await page.getByRole("button", { name: "File" }).click();
  const download = page.waitForEvent("download");
  await page.getByRole("menuitem", { name: /CSV/ }).click();
  const text = readFileSync(await (await download).path(), "utf8").split("\r\n");
  expect(text[0]).toContain("Number,Problem,State,Customer");
  expect(text[1]).toContain(",closed,");

  const other = await browser.newPage();
  await other.goto(program.url);
  await signIn(other, "noll");
  await expect(other.getByRole("navigation", { name: "Office" })).toBeVisible();
  await go(other, "/office/lists/orders");
  await other.getByRole("button", { name: "Views" }).click();
  await other.getByRole("menuitem", { name: /Pressure, done.*Mirin/ }).click();
  await expect(other.getByRole("navigation", { name: "Grouped by Site" })).toBeVisible();
  await expect(other.getByText(/^\d+ lines?/)).toHaveText((await count.textContent())!);
  await other.close();
});

test("all work orders that match get a priority at once", async ({ page }) => {
  const where = encodeURIComponent(JSON.stringify([{ column: "state", in: ["open"] }]));
  await program.office(page, `/office/lists/orders?where=${where}`);
  const count = Number.parseInt((await page.getByText(/^\d+ lines?/).textContent())!, 10);
  await page.getByRole("row").nth(1).getByRole("checkbox").check();
  await page.getByRole("button", { name: `Take all ${count} that match` }).click();
  await page.getByRole("button", { name: "Set the priority" }).click();
  const drawer = page.getByRole("dialog");
  await drawer.getByRole("combobox", { name: "Priority" }).click();
  await page.getByRole("option", { name: "Soon" }).click();
  await drawer.getByRole("button", { name: "Set the priority" }).click();
  await expect(page.getByText(/\d+ changed\./)).toBeVisible();
  const priorities = await page.evaluate(async (w) => (await (await fetch(`/api/office/lists/orders/groups?by=priority&where=${w}`)).json()).groups, where);
  expect(priorities).toEqual([expect.objectContaining({ value: "soon", count })]);
});
