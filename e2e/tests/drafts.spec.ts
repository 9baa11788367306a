/** What is typed, drawn, picked or photographed and not saved yet is there again, whatever happens to the page. */
import { expect, type Page } from "@playwright/test";
import { arrive, command, draw, Phone, Program, photos, signIn, storedAs, test, typeTime } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);
let visit = "";

test.beforeAll(async ({ browser }) => {
  await program.start();
  const office = await (await browser.newContext()).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  const place = await office.evaluate(async () => {
    for (const c of await (await fetch("/api/office/customers?q=water board")).json()) {
      for (const s of c.sites) for (const a of s.assets) if (a.name === "Booster set") return { customer: c.id, site: s.id, asset: a.id };
    }
    throw new Error("no booster set");
  });
  const order = { ...place, problem: "Drafts all over", priority: "normal", minutes: 30 };
  await command(office, "work.opened", { type: "workorder", id: "wdraft" }, order);
  await command(
    office,
    "visit.planned",
    { type: "visit", id: "vdraft" },
    { order: "wdraft", technician: "ansa", start: new Date().toISOString(), minutes: 30 },
  );
  await command(office, "visit.sent", { type: "visit", id: "vdraft" }, {});
  await office.context().close();
  visit = `${program.url}/field/visit/vdraft`;
  await phone.open();
  await signIn(phone.page, "ansa");
  await expect(phone.page.getByText("All at office")).toBeVisible();
  await phone.page.goto(visit);
  await arrive(phone.page);
});
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

const inVisit = (page: Page) => expect(page).toHaveURL(/\/field\/visit\/vdraft/);
const drawer = (page: Page) => page.getByRole("dialog");

async function typeAll(page: Page) {
  await page.getByLabel("Discharge pressure in bar").fill("3.7");
  await page.getByLabel("Write a note").fill("Half a sentence about the");
  await page.getByRole("button", { name: "Expense or one-off" }).click();
  await drawer(page).getByLabel("Description").fill("Hose clamp");
  await drawer(page).getByLabel("EUR each").fill("4.20");
  await page.goBack();
  await expect(drawer(page)).toHaveCount(0);
  await inVisit(page);
}

async function findAll(page: Page) {
  await expect(page.getByLabel("Discharge pressure in bar")).toHaveValue("3.7");
  await expect(page.getByLabel("Write a note")).toHaveValue("Half a sentence about the");
  await page.getByRole("button", { name: "Expense or one-off" }).click();
  await expect(drawer(page).getByLabel("Description")).toHaveValue("Hose clamp");
  await expect(drawer(page).getByLabel("EUR each")).toHaveValue("4.20");
}

test("Back closes what is open, never the visit, and what was typed is there again", async () => {
  const { page } = phone;
  await typeAll(page);
  await findAll(page);
  // Cancel by mistake, and the page loaded anew under an open drawer.
  await drawer(page).getByRole("button", { name: "Close, keep what is typed" }).click();
  await expect(drawer(page)).toHaveCount(0);
  await findAll(page);
  await page.reload();
  await inVisit(page);
  await findAll(page);
  // One drawer over another, closed one by one.
  await page.goBack();
  await page.getByRole("button", { name: "Ask for a part" }).click();
  await drawer(page).getByRole("button", { name: "Catalogue" }).click();
  await expect(drawer(page).getByLabel("Part name or number")).toBeVisible();
  await page.goBack();
  await expect(drawer(page).getByLabel("Part name or number")).toHaveCount(0);
  await page.goBack();
  await expect(drawer(page)).toHaveCount(0);
  await inVisit(page);
  // A menu is a layer too.
  await page.getByRole("combobox", { name: "Unit" }).first().click();
  await expect(page.getByRole("listbox")).toBeVisible();
  await page.goBack();
  await expect(page.getByRole("listbox")).toHaveCount(0);
  await inVisit(page);
  // With nothing open it leads where it always did.
  await page.goBack();
  await expect(page.locator(".visit")).toHaveCount(0);
  await page.goto(visit);
});

test("a time that is typed by hand is there again; Back closes what it is picked from, then the drawer", async () => {
  const { page } = phone;
  await page.goto(`${program.url}/field/time`);
  await page.getByRole("button", { name: "Add time" }).click();
  const drawer = page.locator("form.fix");
  const from = drawer.getByRole("group", { name: "From" });
  await typeTime(from, "06:15");
  await from.getByRole("button", { name: /Choose time/ }).click();
  const lists = page.getByRole("listbox");
  await expect(lists.first()).toBeVisible();
  await page.goBack();
  await expect(lists).toHaveCount(0);
  await expect(drawer).toBeVisible();
  await page.goBack();
  await expect(drawer).toHaveCount(0);
  await page.reload();
  await page.getByRole("button", { name: "Add time" }).click();
  await expect(from.getByRole("spinbutton", { name: "Hours" })).toHaveText("06");
  await expect(from.getByRole("spinbutton", { name: "Minutes" })).toHaveText("15");
  await drawer.getByRole("button", { name: "Throw away" }).click();
  await page.goto(visit);
});

test("the browser is killed in the middle of a signature, a basket and a drawing", async () => {
  await phone.page.getByRole("button", { name: "Find a part" }).click();
  await drawer(phone.page).getByLabel("Part name or number").fill("seal 38");
  await drawer(phone.page)
    .getByRole("button", { name: /Mechanical seal kit 38 mm/ })
    .click();
  await expect(drawer(phone.page).getByRole("button", { name: "Use 1 part", exact: true })).toBeVisible();
  await phone.page.goBack();
  await phone.page.getByRole("button", { name: "Get signature" }).click();
  await phone.page.getByLabel("Name").fill("Aveline Stroud");
  await draw(phone.page);
  // It is stored in the moment that the finger is lifted, and not before.
  await expect.poll(() => storedAs(phone.page, "ansa", "drafts")).toMatch(/Aveline Stroud.*"groups":\[\{/);
  await phone.kill();
  await phone.open(false, visit);
  const { page } = phone;
  await page.getByRole("button", { name: "Get signature" }).click();
  await expect(page.getByLabel("Name")).toHaveValue("Aveline Stroud");
  await page.getByRole("button", { name: "Save signature" }).click();
  await expect(page.getByText(/Aveline Stroud/).last()).toBeVisible();
  await expect(drawer(page)).toHaveCount(0);
  await page.getByRole("button", { name: "Find a part" }).click();
  await drawer(page).getByRole("button", { name: "Use 1 part", exact: true }).click();
  await expect(page.locator("#parts .line", { hasText: "Mechanical seal kit 38 mm" })).toHaveCount(1);
  // What is saved is no draft any more.
  await page.getByRole("button", { name: "Sign again" }).click();
  await expect(page.getByLabel("Name")).toHaveValue("");
  // Two dots are no signature.
  await page.getByLabel("Name").fill("Ida Moss");
  const box = (await page.locator(".sign-pad").boundingBox())!;
  for (const x of [40, 200]) await page.mouse.click(box.x + x, box.y + 60);
  await page.getByRole("button", { name: "Save signature" }).click();
  await expect(page.getByText("There is no signature yet.")).toBeVisible();
  await page.goBack();
  await expect(drawer(page)).toHaveCount(0);
});

test("twenty photos are all there when the page goes while they are prepared", async () => {
  const { page } = phone;
  const all = await photos(await phone.context.newPage(), 20);
  await page.locator("#photos").getByLabel("Pick files").setInputFiles(all);
  await expect(page.locator("#photos").getByRole("status")).toContainText("files ready");
  await page.reload();
  await expect(page.locator("#photos .photos li")).toHaveCount(20, { timeout: 120_000 });
  await page.reload();
  await expect(page.locator("#photos .photos li")).toHaveCount(20);
});
