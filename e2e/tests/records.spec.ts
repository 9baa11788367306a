/** The pages of customers, sites and machines: who is there, what stands out, where a machine went. */
import { expect } from "@playwright/test";
import { choose, Program, test } from "./program.js";

const program = new Program();

test.beforeAll(async () => {
  await program.start(0);
});

test.afterAll(async () => {
  await program.remove();
});

test("people at a site are added, changed, and one is preferred; a note stands out on its work", async ({ page }) => {
  await program.office(page, "/office/records/site/S001");
  const people = page.getByRole("region", { name: "People" });
  const first = (await people.locator("b").first().textContent())!;
  await people.getByRole("button", { name: "Add a person" }).click();
  const form = page.getByRole("dialog", { name: "Add a person" });
  await form.getByLabel("Contact", { exact: true }).fill("Ida Moss");
  await form.getByLabel("Role").fill("night shift");
  await form.getByLabel("Phone").fill("+353 1 5557711");
  await form.getByRole("button", { name: "Save" }).click();
  await expect(people).toContainText("Ida Moss night shift");
  await people.getByRole("button", { name: "Send messages to them" }).click();
  await expect(people.locator(".line").first()).toContainText("Ida Moss");
  await expect(people.locator(".line").first()).toContainText("gets the messages");
  await expect(people).toContainText(first);

  await page.getByLabel("Note that stands out").fill("Dog in the yard: ring first");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.locator("main p", { hasText: "Dog in the yard" })).toBeVisible();
  const order = await page.evaluate(async () => (await (await fetch("/api/office/work/site/S001")).json()).open[0]?.id);
  if (order) {
    await page.goto(`${program.url}/office/orders/${order}`);
    await expect(page.locator("main")).toContainText("Dog in the yard: ring first");
  }
  // Taken back, the note is gone.
  await page.keyboard.press("Control+z");
  await page.goto(`${program.url}/office/records/site/S001`);
  await expect(page.getByLabel("Note that stands out")).toHaveValue("");
});

test("a machine is lent to another site and comes back, with its way to be read", async ({ page }) => {
  await program.office(page, "/office/records/asset/A001-1");
  const way = page.getByRole("region", { name: "Where it was" });
  const go = async (why: string, find: string) => {
    await way.getByRole("button", { name: "It goes elsewhere" }).click();
    const form = page.getByRole("dialog", { name: "It goes elsewhere" });
    await choose(form.getByRole("combobox", { name: "What happens to it" }), why);
    await form.getByLabel(/To which site/).fill(find);
    await form.locator(".choice").first().click();
    await form.getByRole("button", { name: "Keep it" }).click();
    await expect(form).toHaveCount(0);
  };
  const home = await page.evaluate(async () => {
    const a = await (await fetch("/api/office/records/asset/A001-1")).json();
    return a.sites[a.body.site] as string;
  });
  const other = await page.evaluate(async () => (await (await fetch("/api/office/lists/sites?sort=-name")).json()).lines[0].cells.name as string);
  expect(other).not.toBe(home);
  await go("Lent", other);
  await expect(way.locator(".line").first()).toContainText(`Lent ${home} → ${other}`);
  await go("Back", home);
  await expect(way.locator(".line").first()).toContainText(`Back ${other} → ${home}`);
  await expect(way.locator(".line")).toHaveCount(2);
});
