/** What is measured on machines, what is logged at sites, and what keeps a visit from being complete. */
import { expect, type Page } from "@playwright/test";
import { arrive, command, go, Phone, Program, signIn, test } from "./program.js";

const program = new Program();

test.beforeAll(() => program.start());
test.afterAll(() => program.remove());

interface Place {
  customer: string;
  site: string;
  asset: string;
}

/** A machine of a kind, and where it is. */
const machineOf = (office: Page, name: string): Promise<Place> =>
  office.evaluate(async (kind) => {
    for (const q of ["water board", "dairies", "fish", "growers", "distill", "parks"]) {
      for (const c of await (await fetch(`/api/office/customers?q=${q}`)).json()) {
        for (const s of c.sites) for (const a of s.assets) if (a.name === kind) return { customer: c.id, site: s.id, asset: a.id };
      }
    }
    throw new Error(`no ${kind}`);
  }, name);

async function send(office: Page, id: string, place: Place, problem: string, sheets: string[]) {
  await command(office, "work.opened", { type: "workorder", id: `w${id}` }, { ...place, problem, priority: "soon", minutes: 60, sheets });
  const visit = { type: "visit", id: `v${id}` };
  await command(office, "visit.planned", visit, { order: `w${id}`, technician: "ansa", start: new Date().toISOString(), minutes: 60 });
  await command(office, "visit.sent", visit, {});
}

async function begin(page: Page, id: string) {
  await go(page, `/field/visit/v${id}`);
  await arrive(page);
}

test("limits and formulas of a kind of machine reach the phone; a dangerous answer keeps the visit open", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  const booster = await machineOf(office, "Booster set");

  // The office tightens a limit and adds a value that is worked out; one that does not read is refused.
  await office.getByRole("link", { name: /Setup/ }).click();
  await office.getByRole("link", { name: "Kinds of machines" }).click();
  await office.getByRole("button", { name: "Booster set" }).click();
  await office.getByLabel("Suction pressure warnHigh").fill("1.5");
  await office.getByRole("button", { name: "Add a value that is worked out" }).click();
  const added = office.locator(".kinds-derived").last();
  await added.getByLabel("Called").fill("Lift");
  await added.getByLabel("Unit").fill("kPa");
  await added.getByLabel("Formula").fill("discharge -");
  await office.getByRole("button", { name: "Save" }).click();
  await expect(office.getByText("The formula of “Lift” does not read. Nothing was saved.")).toBeVisible();
  await added.getByLabel("Formula").fill("discharge - current");
  await office.getByRole("button", { name: "Save" }).click();
  await expect(office.getByText("These units do not go together.")).toBeVisible();
  await added.getByLabel("Formula").fill("discharge - suction");
  await office.getByRole("button", { name: "Save" }).click();
  await expect(office.getByRole("button", { name: "Save" })).toBeDisabled();

  await send(office, "limits", booster, "Look at the booster", ["inspection@1"]);
  const phone = new Phone(program.url);
  await phone.open();
  const page = phone.page;
  await signIn(page, "ansa");
  await expect(page.locator(".stop", { hasText: "Look at the booster" })).toBeVisible();
  await begin(page, "limits");
  const take = async (label: string, value: string) => {
    const entry = page.locator(".point-entry", { has: page.getByLabel(label, { exact: true }) });
    await page.getByLabel(label, { exact: true }).fill(value);
    await entry.getByRole("button", { name: "Save" }).click();
  };
  await take("Suction pressure in bar", "1.6");
  await expect(page.locator(".point", { hasText: "Suction pressure" }).getByText("high", { exact: true })).toBeVisible();
  await take("Discharge pressure in bar", "4.7");
  await expect(page.locator(".point", { hasText: "Lift" })).toContainText("310");

  // A simulated instrument gives a value instead of the person.
  await page.getByLabel("Motor current L1 in A", { exact: true }).focus();
  await page.getByRole("button", { name: "From Demo gauge" }).first().click();
  await expect(page.getByLabel("Motor current L1 in A", { exact: true })).not.toHaveValue("");
  await expect(page.getByText("from Demo gauge", { exact: true })).toBeVisible();
  await page
    .locator(".point-entry", { has: page.getByLabel("Motor current L1 in A", { exact: true }) })
    .getByRole("button", { name: "Save" })
    .click();

  // The inspection is filled in from what is known; a missing guard keeps the visit from being complete.
  await page.getByRole("link", { name: /Pump inspection/ }).click();
  await expect(page.getByRole("textbox", { name: /Serial number/ })).not.toHaveValue("");
  await page.getByRole("textbox", { name: /Serial number/ }).fill("AL-NEW-7");
  await page.getByRole("textbox", { name: /Serial number/ }).blur();
  await page
    .getByRole("group", { name: /Guards and covers/ })
    .getByRole("button", { name: "No" })
    .click();
  await expect(page.getByText("With this answer the visit can't be complete")).toBeVisible();
  await page.getByRole("link", { name: "Back to the visit" }).first().click();
  await page.locator(".dock").getByRole("button", { name: "Finish" }).click();
  await expect(page.getByText(/Not complete yet/)).toBeVisible();
  await expect(page.getByRole("button", { name: /^Complete/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Cancel" }).click();
  await page.getByRole("link", { name: /Pump inspection/ }).click();
  await page
    .getByRole("group", { name: /Guards and covers/ })
    .getByRole("button", { name: "Yes" })
    .click();
  await page.getByRole("link", { name: "Back to the visit" }).first().click();
  await page.locator(".dock").getByRole("button", { name: "Finish" }).click();
  await expect(page.getByRole("button", { name: /^Complete/ })).toBeVisible();
  await page.getByRole("button", { name: "Cancel" }).click();

  // What was mended is on no list; the serial number is on record, with who wrote it.
  await go(office, "/office/visits/vlimits");
  await expect(office.getByRole("region", { name: "Readings" }).locator(".line", { hasText: "Motor current L1" })).toContainText("from Demo gauge");
  await expect(office.getByRole("region", { name: "Readings" }).locator(".line", { hasText: "Lift" })).toContainText("310 kPa");
  await go(office, `/office/records/asset/${booster.asset}`);
  await expect(office.getByLabel("Serial number")).toHaveValue("AL-NEW-7");
  await expect(office.getByRole("region", { name: /Changes/ })).toContainText("Ansa Vane");
  await go(office, "/office/review/attention");
  const attention = office.getByRole("region", { name: "Wants attention" });
  await expect(attention.locator("li").first()).toBeVisible();
  const all = attention.getByRole("button", { name: /Show all/ });
  if (await all.count()) await all.click();
  const mine = attention.locator("li").filter({ has: office.locator('a[href="/office/visits/vlimits"]') });
  await expect(mine).toHaveText([/Suction pressure: 1.6 bar, high \(limit 1.5 bar\)/]);
  await mine.getByRole("button", { name: "Dealt with" }).click();
  await office.getByLabel("What was done about it").fill("Inlet valve was throttled");
  await office.getByRole("button", { name: "Note it" }).click();
  await expect(mine).toHaveCount(0);
  await attention.getByRole("button", { name: "show what was dealt with" }).click();
  await expect(attention.locator("li", { hasText: "Inlet valve was throttled" })).toHaveCount(1);
  await phone.remove();
});

test("a regulated substance is logged, struck out and read at the office", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  const chiller = await machineOf(office, "Water chiller");
  await send(office, "coolant", chiller, "Top up the chiller", []);
  const phone = new Phone(program.url);
  await phone.open();
  const page = phone.page;
  await signIn(page, "ansa");
  await expect(page.locator(".stop", { hasText: "Top up the chiller" })).toBeVisible();
  await begin(page, "coolant");
  await page.evaluate(() => navigator.serviceWorker.ready); // the app opens with no signal from then on
  await phone.context.setOffline(true);
  const section = page.locator("#substances");
  const log = async (act: string, amount: string) => {
    await section.getByRole("button", { name: act, exact: true }).click();
    await section.getByLabel("Amount in kg").fill(amount);
    await section.getByRole("button", { name: "Log it" }).click();
    await expect(section.getByLabel("Amount in kg")).toHaveValue("");
  };
  await log("Counted", "6");
  await log("Put in", "1,2");
  await expect(section.locator(".line").first()).toContainText("4.8 kg");
  await log("Put in", "9");
  const wrong = section.locator(".line", { hasText: "9 kg" });
  await wrong.getByRole("button", { name: "Strike out" }).click();
  await page.getByRole("button", { name: "Wrong value" }).click();
  await expect(section.locator(".line").first()).toContainText("4.8 kg");
  await phone.context.setOffline(false);
  await go(page, "/field/outbox");
  await expect(page.getByText("Everything is at the office.")).toBeVisible({ timeout: 60_000 });

  await go(office, `/office/records/site/${chiller.site}`);
  const page2 = office.getByRole("region", { name: "Regulated substances" });
  await expect(page2.locator(".line").first()).toContainText("4.8 kg");
  await expect(page2.locator("tbody tr")).toContainText([/Put in/, /Put in/, /Counted/]);
  await expect(page2.locator("tbody tr.struck")).toHaveCount(1);
  await office.emulateMedia({ media: "print" });
  await expect(page2).toBeVisible();
  await expect(office.getByRole("navigation", { name: "Office" })).toBeHidden();
  await phone.remove();
});
