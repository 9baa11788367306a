/** What the clock does, as the phone shows it: on the dock, on Time and on the office's board. */
import { expect, type Page } from "@playwright/test";
import { choose, command, go, Phone, Program, signIn, test } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

test.beforeAll(async () => {
  await program.start();
  await phone.open();
  await signIn(phone.page, "ansa");
  await expect(phone.page.getByText("All at office")).toBeVisible();
});
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

const dock = (page: Page) => page.locator(".dock");
const step = (page: Page, name: string) => dock(page).getByRole("button", { name, exact: true });
/** A clock that runs shows seconds. */
const ticks = /\d:\d\d:\d\d/;

/** Opens the visit under way or the next one, and is on site there. */
async function onSite(page: Page): Promise<string> {
  await go(page, "/field");
  await expect(page.getByText("All at office")).toBeVisible();
  await page.locator(".stop.now a, .stop.todo a").first().click();
  await page.waitForURL(/\/field\/visit\//);
  const next = dock(page).locator(".next:not([aria-disabled])");
  for (;;) {
    const name = (await next.textContent()) ?? "";
    if (name === "Finish") break;
    await next.click();
    await expect(next).not.toHaveText(name);
  }
  await expect(dock(page).getByRole("timer")).toHaveText(ticks);
  return page.url().split("/").pop() ?? "";
}

async function findWork(page: Page, problem: string) {
  await page.getByRole("button", { name: "Found work" }).click();
  await page.getByLabel("What is to be done?").fill(problem);
  await page.getByRole("button", { name: "Do it now" }).click();
  await expect(page.getByRole("button", { name: "Do it now" })).toHaveCount(0);
  await expect(page.getByText(problem).first()).toBeVisible();
}

test("a visit that is left stands still, and coming back goes on with it", async ({ browser }) => {
  const { page } = phone;
  const first = await onSite(page);
  const name = (await dock(page).getAttribute("aria-label")) ?? "";
  await findWork(page, "Sump float sticks");
  const second = page.url().split("/").pop();
  expect(second).not.toBe(first);

  // It is at the same place: there is nothing to set off for.
  await expect(step(page, "Set off")).toHaveCount(0);
  await step(page, "Start work").click();
  await expect(dock(page)).toContainText(`The clock at ${name} stopped`);
  await expect(dock(page).getByRole("timer")).toHaveText(ticks);

  await go(page, `/field/visit/${first}`);
  await expect(dock(page)).toContainText(`Paused · you went on to ${name}`);
  await expect(dock(page).getByRole("timer")).not.toHaveText(ticks);
  await expect(step(page, "Resume")).toBeVisible();

  // Undo takes the clock back to where it was.
  await go(page, `/field/visit/${second}`);
  await step(page, "Finish").click();
  await page.getByRole("button", { name: /Complete/ }).click();
  await expect(page.getByRole("dialog", { name: "Signature" })).toBeVisible();
  await go(page, `/field/visit/${first}`);
  await expect(dock(page).getByRole("timer")).not.toHaveText(ticks);

  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await office.getByRole("link", { name: /^Board/ }).click();
  const lane = office.getByRole("region", { name: "Ansa Vane" });
  await expect(lane.locator(".lane-stage", { hasText: "on site" })).toHaveCount(0);
  await expect(lane.locator(".lane-stage", { hasText: "paused" })).toHaveCount(1);

  await step(page, "Resume").click();
  await expect(dock(page).getByRole("timer")).toHaveText(ticks);
  await expect(lane.locator(".lane-stage", { hasText: "on site" })).toHaveCount(1);
  await office.context().close();
});

test("work for no visit stops the clock of the visit, and Time says so at once", async () => {
  const { page } = phone;
  const id = await onSite(page);
  await go(page, "/field/time");
  await page.getByRole("button", { name: "Other work" }).click();
  await page.getByRole("button", { name: "Workshop" }).click();
  await expect(page.getByRole("button", { name: /Stop Workshop/ })).toBeVisible({ timeout: 3000 });
  await go(page, `/field/visit/${id}`);
  await expect(dock(page)).toContainText("Paused · Workshop");
  await expect(dock(page).getByRole("timer")).not.toHaveText(ticks);
  await go(page, "/field/time");
  await page.getByRole("button", { name: /Stop Workshop/ }).click();
  await go(page, `/field/visit/${id}`);
  // The workshop is not at the site: the way back is time too.
  await expect(step(page, "Set off")).toBeVisible();
  await step(page, "Resume").click();
  await expect(dock(page).getByRole("timer")).toHaveText(ticks);
});

test("a second tap takes no second step", async ({ browser }) => {
  const { page } = phone;
  const id = await onSite(page);
  await findWork(page, "Drain cover is cracked");
  await step(page, "Start work").dblclick();
  await expect(step(page, "Finish")).toBeVisible();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await expect(dock(page)).toContainText("On site");

  // The undo is in reach wherever the dock is, and takes back what the step stopped.
  await page.getByRole("link", { name: "Route" }).click();
  const undo = dock(page).getByRole("button", { name: /undo Arrived/ });
  await undo.click();
  await expect(undo).toHaveCount(0);
  await go(page, `/field/visit/${id}`);
  await expect(dock(page).getByRole("timer")).toHaveText(ticks);

  // The same at the route: accepting is not opening.
  const office = await (await browser.newContext()).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  const customer = (await office.evaluate(async () => (await fetch("/api/office/customers?q=dairies")).json()))[0];
  const order = { customer: customer.id, site: customer.sites[0].id, problem: "Tap drips", priority: "normal", minutes: 30 };
  await command(office, "work.opened", { type: "workorder", id: "wtap" }, order);
  await command(office, "visit.planned", { type: "visit", id: "vtap" }, { order: "wtap", technician: "ansa", start: new Date().toISOString(), minutes: 30 });
  await command(office, "visit.sent", { type: "visit", id: "vtap" }, {});
  await office.context().close();
  await go(page, "/field");
  const accept = page.locator(".stop", { hasText: "Tap drips" }).getByRole("button", { name: /^Accept / });
  // A busy page hears of the second tap late, when something else has taken the place of what was tapped.
  await page.evaluate(() => {
    const busy = () => {
      const end = performance.now() + 900;
      while (performance.now() < end);
    };
    addEventListener("click", () => requestAnimationFrame(() => setTimeout(busy)), { once: true });
  });
  await accept.dblclick();
  await expect(page).toHaveURL(/\/field\/?$/);
  await expect(dock(page).getByRole("button", { name: /undo Accept/ })).toBeVisible();
});

test("what a stretch of work went to is said on the phone, in the company's words, and read at the office", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await program.office(office, "/office/setup/lists", "petrok");
  const sorts = office.getByRole("region", { name: "Sorts of work that time goes to" });
  await sorts.getByRole("button", { name: /^Add to/ }).click();
  await sorts.getByRole("textbox").last().fill("Commissioning");
  await office.getByRole("button", { name: "Save" }).click();
  await expect(office.getByText("Devices have it with the next sync.")).toBeVisible();
  await go(office, "/office/setup/people");
  await choose(office.getByRole("row", { name: /Ansa Vane/ }).getByRole("combobox", { name: "Usual sort of work" }), "Service");

  const { page } = phone;
  const visit = await onSite(page);
  await go(page, "/field/time");
  const stretch = page.locator(".span.work").last();
  await expect(stretch).toContainText("Service", { timeout: 60_000 });
  await stretch.getByRole("button", { name: /^Describe/ }).click();
  await page.getByLabel("What was done, in a line").fill("Settings of the new controller");
  await page.reload();
  await stretch.getByRole("button", { name: /^Describe/ }).click();
  await page.getByRole("button", { name: "Commissioning" }).click();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(stretch).toContainText("Commissioning · Settings of the new controller");
  await expect(page.getByText("All at office")).toBeVisible({ timeout: 60_000 });
  await go(office, `/office/visits/${visit}`);
  await expect(office.getByRole("region", { name: "Hours" })).toContainText("Commissioning, Settings of the new controller");
  await office.context().close();
});

test("a length of time is told without begin and end, is on the day at the office, and can be struck out", async ({ page: office }) => {
  const { page } = phone;
  await page.goto(`${program.url}/field/time`);
  await page.getByRole("button", { name: "Tell a length of time" }).click();
  const form = page.getByRole("dialog", { name: "A length of time" });
  await form.getByRole("button", { name: "45 min" }).click();
  await form.getByLabel("What was done, in a line").fill("Drawings for the sump");
  await form.getByRole("button", { name: "Save" }).dblclick(); // a second press tells no second
  const line = page.locator(".span", { hasText: "Drawings for the sump" });
  await expect(line).toHaveCount(1);
  await expect(line).toContainText("told");
  await expect(line).toContainText("45 min");
  await expect(page.getByText("All at office")).toBeVisible();

  await program.office(office, "/office/hours");
  const day = await page.evaluate(() => new Date().toLocaleDateString("sv", { timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone }));
  const told = () =>
    office.evaluate(async (card) => {
      const d = await (await fetch(`/api/office/hours/days/${card}`)).json();
      return d.spans.filter((s: { loose?: boolean; text?: string }) => s.loose && s.text === "Drawings for the sump").length as number;
    }, `ansa+${day}`);
  await expect.poll(told).toBe(1);
  await page.getByText("What was tapped").click();
  await page.locator(".line", { hasText: "without begin and end" }).getByRole("button", { name: "Strike out" }).click();
  await page.getByLabel("Reason").fill("Counted twice");
  await page.locator(".choices").getByRole("button", { name: "Strike out" }).click();
  await expect(line).toHaveCount(0);
  await expect.poll(told).toBe(0);
});
