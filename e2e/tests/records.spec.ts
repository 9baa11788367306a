/** The pages of customers, sites and machines: who is there, what stands out, where a machine went. */
import { expect } from "@playwright/test";
import { choose, go, Program, test } from "./program.js";

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
    await go(page, `/office/orders/${order}`);
    await expect(page.locator("main")).toContainText("Dog in the yard: ring first");
  }
  // Taken back, the note is gone.
  await page.keyboard.press("Control+z");
  await go(page, "/office/records/site/S001");
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
    return a.within.find((w: { type: string }) => w.type === "site").name as string;
  });
  const other = await page.evaluate(async () => (await (await fetch("/api/office/lists/sites?sort=-name")).json()).lines[0].cells.name as string);
  expect(other).not.toBe(home);
  await go("Lent", other);
  await expect(way.locator(".line").first()).toContainText(`Lent ${home} → ${other}`);
  await go("Back", home);
  await expect(way.locator(".line").first()).toContainText(`Back ${other} → ${home}`);
  await expect(way.locator(".line")).toHaveCount(2);
});

test("a customer that is there twice becomes one, an undo parts the two, and a site goes to another customer", async ({ page }) => {
  await program.office(page, "/office/records/site/S001");
  const names = await page.evaluate(async () => {
    const site = await (await fetch("/api/office/records/site/S001")).json();
    const all = (await (await fetch("/api/office/lists/customers?sort=-name")).json()).lines as { id: string; cells: { name: string } }[];
    const own = site.within[0] as { id: string; name: string };
    const other = all.find((c) => c.id !== own.id)!;
    return { site: site.body.name as string, own, other: { id: other.id, name: other.cells.name } };
  });
  const customer = (id: string) => page.goto(`${program.url}/office/records/customer/${id}`);

  await customer(names.own.id);
  await page.getByRole("button", { name: "This one is there twice" }).click();
  const twice = page.getByRole("dialog", { name: "This one is there twice" });
  await twice.getByLabel(/Which customer it is/).fill(names.other.name);
  await twice.locator(".choice").first().click();
  await expect(twice).toContainText("site");
  await twice.getByRole("button", { name: "They are the same" }).click();
  await expect(page.locator("main")).toContainText(`This turned out to be ${names.other.name}`);
  await page.locator("main").getByRole("link", { name: names.other.name }).click();
  await expect(page.getByRole("region", { name: "Sites" })).toContainText(names.site);
  await expect(page.locator("main")).toContainText(`written down twice: ${names.own.name}`);
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("region", { name: "Sites" })).not.toContainText(names.site);
  await customer(names.own.id);
  await expect(page.getByRole("region", { name: "Sites" })).toContainText(names.site);

  await go(page, "/office/records/site/S001");
  const whose = page.getByRole("region", { name: "Whose it was" });
  await whose.getByRole("button").click();
  const move = page.getByRole("dialog", { name: "It becomes another customer's" });
  await move.getByLabel(/Whose it is now/).fill(names.other.name);
  await move.locator(".choice").first().click();
  await move.getByLabel("Note").fill("Sold with the house");
  await move.getByRole("button", { name: "Keep it" }).click();
  await expect(whose.locator(".line").first()).toContainText(`${names.own.name} → ${names.other.name}`);
  await expect(whose).toContainText("Sold with the house");
  await expect(page.locator("main header")).toContainText(names.other.name);
});
