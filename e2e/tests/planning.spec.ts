/** Planning ahead on the board: drafts, a sick person's day, gaps, several days at once. */
import { expect, type Page, test } from "@playwright/test";
import { wrongs } from "./accessible.js";
import { command, dayFrom, go, openOrder, Program, signIn } from "./program.js";

const program = new Program();

test.beforeAll(() => program.start());
test.afterAll(() => program.stop());
test.use({ viewport: { width: 1280, height: 800 } });

const lane = (page: Page, name: string) => page.getByRole("region", { name, exact: true });
const stops = (page: Page, name: string, problem: string) => lane(page, name).getByTitle(problem);

/** The moment of a time of a day that is so many days on, by the company's clock. */
const at = (page: Page, days: number, time: string) =>
  page.evaluate(
    async ([date, time]) => {
      const board = await (await fetch(`/api/office/board?date=${date}`)).json();
      const [h, m] = time.split(":").map(Number);
      return new Date(Date.parse(board.plan.begin) + (h * 60 + m) * 60_000).toISOString();
    },
    [dayFrom(days), time],
  );

async function planned(page: Page, id: string, problem: string, body: object) {
  await openOrder(page, id, problem);
  await command(page, "visit.planned", { type: "visit", id: `visit-${id}` }, { order: id, minutes: 60, ...body });
}

test("a sick person's day is handed over as a draft that nobody sees before it is published", async ({ page, browser }) => {
  await program.office(page, `/office?date=${dayFrom(8)}`);
  await planned(page, "sick1", "First of the sick day", { technician: "bero", start: await at(page, 8, "09:00") });
  await planned(page, "sick2", "Second of the sick day", { technician: "bero", start: await at(page, 8, "13:00") });
  await command(page, "visit.sent", { type: "visit", id: "visit-sick1" }, {});
  await expect(stops(page, "Bero Orme", "First of the sick day")).toBeVisible();
  await expect(stops(page, "Bero Orme", "Second of the sick day")).toBeVisible();
  const all = await lane(page, "Bero Orme").locator("[data-take]").count();
  await page.getByRole("button", { name: "B. Orme", exact: true }).click();
  const beside = page.getByRole("region", { name: "Chosen person" });
  await beside.getByRole("button", { name: "Hand the day over" }).click();
  await expect(beside.locator(".hand-over li")).toHaveCount(all); // whoever fits best
  await beside.getByRole("combobox", { name: "To" }).click();
  await page.getByRole("option", { name: "Ansa Vane" }).click();
  await expect(beside.locator(".hand-over li")).toContainText(Array(all).fill("A. Vane"));
  await beside.getByRole("checkbox", { name: /off this day/ }).check();
  expect(await wrongs(page)).toEqual([]);
  await beside.getByRole("button", { name: "Put it in the draft" }).click();

  const draft = page.getByRole("region", { name: /^Draft/ });
  await expect(draft).toContainText(`${all} changes`);
  await expect(stops(page, "Bero Orme", "of the sick day")).toHaveCount(0);
  await expect(page.locator(".trip.drafted")).toHaveCount(all);
  await expect(lane(page, "Bero Orme")).toContainText("off: ");

  // Others see the plan as it is.
  const other = await (await browser.newContext()).newPage();
  await program.office(other, `/office?date=${dayFrom(8)}&draft=true`, "petrok");
  await expect(stops(other, "Bero Orme", "of the sick day")).toHaveCount(2);

  // A visit that somebody moved meanwhile is shown as it is now.
  await command(page, "visit.moved", { type: "visit", id: "visit-sick2" }, { technician: "cathal", start: await at(page, 8, "14:00"), minutes: 60 });
  await expect(draft).toContainText("1 visit changed underneath");
  await draft.getByRole("button", { name: "Look through and publish" }).click();
  const look = page.getByRole("dialog", { name: "What the draft changes" });
  await expect(look).toContainText("meanwhile: ");
  expect(await wrongs(page)).toEqual([]);
  await look
    .locator("li", { hasText: "Second of the sick day" })
    .getByRole("button", { name: /^Leave out/ })
    .click();
  await expect(look.locator("li")).toHaveCount(all - 1);
  await look.getByRole("button", { name: /^Publish/ }).click();
  await expect(draft).toHaveCount(0);
  await expect(page.getByTitle("First of the sick day")).toBeVisible();
  await expect(stops(page, "Bero Orme", "of the sick day")).toHaveCount(0);
  await expect(stops(other, "Bero Orme", "of the sick day")).toHaveCount(0);
  await other.context().close();

  // Whoever has it now is told by their phone.
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(program.url);
  await signIn(phone, "ansa");
  await expect(phone.getByRole("navigation").first()).toBeVisible();
  await go(phone, "/field/visit/visit-sick1");
  await expect(phone.getByText("First of the sick day").first()).toBeVisible({ timeout: 60_000 });
  await phone.context().close();
});

test("whoever accepted a visit is asked again when it is moved far", async ({ page, browser }) => {
  await program.office(page, `/office?date=${dayFrom(3)}`, "petrok");
  await command(page, "settings.changed", { type: "settings", id: "visits" }, { days: { [dayFrom(0)]: { visits: { again: 60 } } } });
  await planned(page, "again", "Moved after it was accepted", { technician: "ansa", start: await at(page, 3, "09:00") });
  await command(page, "visit.sent", { type: "visit", id: "visit-again" }, {});
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(program.url);
  await signIn(phone, "ansa");
  await expect(phone.getByRole("navigation").first()).toBeVisible();
  await go(phone, "/field/visit/visit-again");
  await phone.getByRole("button", { name: "Accept", exact: true }).click();
  await expect(phone.getByRole("button", { name: "Set off" })).toBeVisible();
  const stage = () => page.evaluate(async () => (await (await fetch("/api/office/visits/visit-again")).json()).view.visit.stage);
  await expect.poll(stage).toBe("accepted");
  await command(page, "visit.moved", { type: "visit", id: "visit-again" }, { technician: "ansa", start: await at(page, 3, "09:30"), minutes: 60 });
  await expect(phone.getByText(/moved, was/)).toHaveCount(1); // a little: it is said, and stays accepted
  expect(await stage()).toBe("accepted");
  await command(page, "visit.moved", { type: "visit", id: "visit-again" }, { technician: "ansa", start: await at(page, 3, "13:00"), minutes: 60 });
  await expect(phone.getByText(/moved, was 09:00|moved, was .* 09:00/)).toBeVisible();
  await phone.getByRole("button", { name: "Accept", exact: true }).click();
  await expect.poll(stage).toBe("accepted");
  await expect(phone.getByText(/moved, was/)).toHaveCount(0);
  await phone.context().close();
});

test("a visit is withdrawn, and what is near fills the gap", async ({ page }) => {
  await program.office(page, `/office?date=${dayFrom(9)}`);
  await openOrder(page, "near", "Near the hole", { minutes: 45 });
  // At the same site as the work that is near: whatever else waits is farther away.
  await planned(page, "before", "Before the hole", { technician: "garo", start: await at(page, 9, "08:30"), minutes: 60 });
  await planned(page, "hole", "To be called off", { technician: "garo", start: await at(page, 9, "10:00"), minutes: 180 });
  await stops(page, "Garo Yell", "To be called off").click();
  await page.getByRole("button", { name: "Withdraw and fill" }).click();
  const gap = page.getByRole("region", { name: "Chosen time" });
  await expect(gap.getByRole("heading")).toContainText("G. Yell");
  expect(await wrongs(page)).toEqual([]);
  const near = gap.locator("ol button", { hasText: "Near the hole" });
  await expect(near).toBeVisible();
  await expect(gap.getByText("To be called off")).toHaveCount(0); // it was just called off
  await near.click();
  await expect(stops(page, "Garo Yell", "Near the hole")).toBeVisible();
  await expect(page.getByRole("region", { name: "Chosen visit" })).toContainText("Near the hole");
});

test("two people go for three days with the boat, and their days show it", async ({ page }) => {
  await program.office(page, `/office?date=${dayFrom(8)}`);
  await openOrder(page, "long", "Three days on the island", { minutes: 360 });
  await page
    .locator(".to-place")
    .getByRole("button", { name: /Three days on the island/ })
    .click();
  await page.getByRole("button", { name: /^Plan by form/ }).click();
  const form = page.getByRole("dialog", { name: "Plan a visit" });
  const pick = async (list: string, option: string, several = false) => {
    await form.getByRole("combobox", { name: list }).click();
    await page.getByRole("option", { name: option }).click();
    if (several) await page.keyboard.press("Escape");
  };
  await pick("Technician", "Hesper Lund");
  await pick("Who comes along", "Idris Corrow", true);
  await pick("What goes along", "Work boat", true);
  await form.getByRole("button", { name: "One day more" }).click();
  await form.getByRole("button", { name: "One day more" }).click();
  await form.getByRole("button", { name: "Plan and send" }).click();
  await expect(form).toHaveCount(0);
  const visits = await page.evaluate(async () => {
    const page = await (await fetch("/api/office/orders/long")).json();
    return page.visits.map((v: { visit: { start: string } }) => v.visit.start.slice(0, 10)).sort();
  });
  expect(new Set(visits).size).toBe(3);
  for (const day of visits) {
    await go(page, `/office?date=${day}`);
    await expect(stops(page, "Hesper Lund", "Three days on the island")).toBeVisible();
    await expect(lane(page, "Idris Corrow").getByText("with H. Lund")).toBeVisible();
    await expect(lane(page, "Work boat").locator("button")).toHaveCount(1);
  }
});

test("several visits are given to somebody at once, and one is copied to another day", async ({ page }) => {
  await program.office(page, `/office?date=${dayFrom(10)}`);
  await planned(page, "many1", "One of several", { technician: "jory", start: await at(page, 10, "09:00") });
  await planned(page, "many2", "Another of several", { technician: "jory", start: await at(page, 10, "13:00") });
  await stops(page, "Jory Thessal", "One of several").click();
  await stops(page, "Jory Thessal", "Another of several").click({ modifiers: ["Shift"] });
  const several = page.getByRole("region", { name: "Several chosen" });
  await several.getByRole("combobox", { name: "To" }).click();
  await page.getByRole("option", { name: "Kerra Maddow" }).click();
  await several.getByRole("button", { name: "Plan 2 so" }).click();
  await expect(stops(page, "Kerra Maddow", "of several")).toHaveCount(2);

  await stops(page, "Kerra Maddow", "One of several").click();
  await page.getByRole("button", { name: "Copy to other days" }).click();
  await page.getByRole("button", { name: "Plan 1 copy" }).click();
  await expect(page.getByRole("button", { name: "Plan 1 copy" })).toHaveCount(0);
  await go(page, `/office?date=${dayFrom(11)}`);
  await expect(stops(page, "Kerra Maddow", "One of several")).toBeVisible();
});

test("a visit goes to another day and person on the week by dragging and by keys, the month and the map show the same", async ({ page }) => {
  const on = dayFrom(9);
  await program.office(page, `/office?view=week&date=${on}`);
  await planned(page, "weekly", "Moved over the week", { technician: "idris", start: await at(page, 9, "09:00") });
  const chip = page.getByTitle("Moved over the week");
  const where = () => page.evaluate(async () => (await (await fetch("/api/office/visits/visit-weekly")).json()).view.visit.technician);
  await expect(chip).toBeVisible();
  expect(await wrongs(page)).toEqual([]);

  // By keys: one person down.
  await chip.focus();
  await page.keyboard.press("Space");
  await expect(page.getByRole("status").getByText(/I\. Corrow .* driving/)).toBeVisible();
  await page.keyboard.press("ArrowDown");
  await expect(page.getByRole("status").getByText(/J\. Thessal .* driving/)).toBeVisible(); // what it would come to
  await page.keyboard.press("Enter");
  const sure = page.getByRole("button", { name: "Plan it all the same" });
  await expect
    .poll(async () => {
      if (await sure.isVisible()) await sure.click();
      return where();
    })
    .toBe("jory");

  await expect(page.getByRole("row", { name: /^Jory Thessal/ }).getByTitle("Moved over the week")).toBeVisible();

  // By dragging: to somebody else on the same day.
  const row = page.getByRole("row", { name: /^Hesper Lund/ });
  const column = await chip.evaluate((c) => (c.closest("td") as HTMLTableCellElement).cellIndex);
  const cell = row.getByRole("cell").nth(column - 1);
  // Where the cell is by then: rows grow and shrink as the board hears of what was moved.
  await chip.hover();
  await page.mouse.down();
  await expect(async () => {
    await cell.hover({ force: true });
    await expect(page.getByRole("status").getByText(/H\. Lund/)).toBeVisible({ timeout: 1_000 });
  }).toPass();
  await page.mouse.up();
  await expect
    .poll(async () => {
      if (await sure.isVisible()) await sure.click();
      return where();
    })
    .toBe("hesper");
  await expect(row.getByTitle("Moved over the week")).toBeVisible();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await page.getByRole("button", { name: /^Undo/ }).click();
  await expect.poll(where).toBe("jory");

  await go(page, `/office?view=month&date=${on}`);
  await expect(
    page
      .getByRole("cell")
      .getByText(/left of/)
      .first(),
  ).toBeVisible();
  expect(await wrongs(page)).toEqual([]);
  await page
    .getByRole("button", { name: String(Number(on.slice(8))), exact: true })
    .first()
    .click();
  await expect(stops(page, "Jory Thessal", "Moved over the week")).toBeVisible();
  await go(page, `/office?view=map&date=${on}`);
  const routes = page.getByRole("region", { name: "Routes of the day" });
  await routes.locator("li button").first().click();
  await expect(page.getByRole("region", { name: "Chosen visit" })).toBeVisible();
  expect(await wrongs(page, '[aria-label="Routes of the day"]')).toEqual([]); // marks that lie on one another are in it too
});

test("all that waits is planned together, what takes two and a boat too, into a draft", async ({ page }) => {
  const workday = [11, 12, 13].find((n) => ![0, 6].includes(new Date(`${dayFrom(n)}T12:00:00Z`).getUTCDay())) ?? 11;
  await program.office(page, `/office?date=${dayFrom(workday)}`);
  await openOrder(page, "all1", "First of all that waits");
  await openOrder(page, "all2", "Second of all that waits", { crew: 2, things: ["boat"] });
  await page.getByRole("button", { name: "Plan all of it together" }).click();
  const planned = page.getByRole("region", { name: "All that waits, planned together" });
  await planned.getByRole("button", { name: "Work it out" }).click();
  await expect(planned.getByText(/\d of \d+ fits?\./)).toBeVisible({ timeout: 30_000 });
  expect(await wrongs(page)).toEqual([]);
  await planned.getByRole("button", { name: /^Put \d+ into the draft$/ }).click();
  await expect(page.getByRole("region", { name: "Draft, seen by you alone" })).toContainText(/\d+ changes/);
  await expect(page.locator(".lane").getByTitle("First of all that waits")).toContainText("draft");
  await expect(page.locator(".lane").getByTitle("Second of all that waits")).toContainText("draft");
  await expect(lane(page, "Work boat").locator("button")).toHaveCount(1);
  await expect(planned).toHaveCount(0);
  await page.getByRole("button", { name: "Throw the draft away" }).click();
  await expect(page.getByText("What you place and move now is kept here")).toBeVisible();
});

test("a morning with a sick person and an emergency is put right, and published", async ({ page }) => {
  const workday = [14, 15, 16].find((n) => ![0, 6].includes(new Date(`${dayFrom(n)}T12:00:00Z`).getUTCDay())) ?? 14;
  const date = dayFrom(workday);
  await program.office(page, `/office?date=${date}`);
  await planned(page, "right1", "What the sick one has", { technician: "bero", start: await at(page, workday, "09:00") });
  await planned(page, "right2", "What stays as it is", { technician: "ansa", start: await at(page, workday, "09:00") });
  await command(page, "absence.asked", { type: "absences", id: "bero" }, { from: date, to: date, why: "sick" });
  await openOrder(page, "right3", "Flooded since the night", { priority: "emergency", promiseTo: await at(page, workday, "12:00") });
  await expect(lane(page, "Bero Orme")).toContainText("off: ");
  await page.getByRole("button", { name: "Put the day right" }).click();
  const right = page.getByRole("region", { name: "The day put right" });
  await expect(right.getByText("Bero Orme is not at work")).toBeVisible();
  await expect(right.getByText("can't wait").first()).toBeVisible();
  expect(await wrongs(page)).toEqual([]);
  await right.getByRole("button", { name: /^Put \d+ into the draft$/ }).click();
  await expect(stops(page, "Bero Orme", "What the sick one has")).toHaveCount(0);
  await expect(page.locator(".lane").getByTitle("What the sick one has")).toContainText("draft");
  await expect(page.locator(".lane").getByTitle("Flooded since the night")).toContainText("draft");
  await expect(stops(page, "Ansa Vane", "What stays as it is")).not.toContainText("draft");
  await page.getByRole("button", { name: "Look through and publish" }).click();
  await page
    .getByRole("dialog")
    .getByRole("button", { name: /^Publish/ })
    .click();
  await expect(page.getByRole("region", { name: /^Draft/ })).toHaveCount(0);
  await expect(page.locator(".lane").getByTitle("Flooded since the night")).toBeVisible();
  await page.getByRole("button", { name: "Put the day right" }).click();
  await expect(right.getByText("Bero Orme is not at work")).toHaveCount(0); // once is enough
});

test("what is promised to be done by a time is late on the board, and on the order, when it is planned for longer", async ({ page }) => {
  const day = [17, 18, 19].find((n) => ![0, 6].includes(new Date(`${dayFrom(n)}T12:00:00Z`).getUTCDay())) ?? 17;
  await program.office(page, `/office?date=${dayFrom(day)}`);
  await openOrder(page, "done1", "To be done by noon", { doneBy: await at(page, day, "12:00") });
  await planned(page, "done1b", "Beside it", { technician: "ansa", start: await at(page, day, "15:00") });
  await command(
    page,
    "visit.planned",
    { type: "visit", id: "visit-done1" },
    { order: "done1", technician: "ansa", start: await at(page, day, "10:00"), minutes: 180 },
  );
  await expect(stops(page, "Ansa Vane", "To be done by noon")).toContainText("after promise");
  await go(page, "/office/orders/done1");
  await expect(page.getByText(/to be done by .*, planned for longer/)).toBeVisible();
  await command(page, "visit.moved", { type: "visit", id: "visit-done1" }, { technician: "ansa", start: await at(page, day, "09:00"), minutes: 60 });
  await expect(page.getByText(/planned for longer/)).toHaveCount(0);
});

test("a technician with time left asks for work nearby, and takes it where the company lets them", async ({ page, browser }) => {
  await program.office(page, "/office", "petrok");
  const long = { days: Array(7).fill([{ from: "06:00", to: "23:00" }]) };
  await command(page, "record.amended", { type: "person", id: "dilys" }, { hours: [long] }); // with time left
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(program.url);
  await signIn(phone, "dilys");
  await phone.getByRole("button", { name: "Time left? Work near you" }).click();
  const drawer = phone.getByRole("dialog");
  await drawer.getByRole("button", { name: "Ask the office for it" }).first().click();
  await expect(drawer.getByRole("status")).toContainText("The office is asked");
  await drawer.getByRole("button", { name: "Close" }).click();
  await expect
    .poll(async () => page.evaluate(async () => JSON.stringify(await (await fetch("/api/office/flags")).json())))
    .toContain("I have time left: may I do");

  await command(page, "settings.changed", { type: "settings", id: "visits" }, { days: { [dayFrom(0)]: { visits: { nearby: true } } } });
  await phone.getByRole("button", { name: "Time left? Work near you" }).click();
  const first = drawer.locator(".nearby li").first();
  const site = await first.locator(".strong").textContent();
  expect(await wrongs(phone)).toEqual([]);
  await first.getByRole("button", { name: "Take it" }).click();
  await expect(drawer.getByRole("status")).toContainText("is yours");
  await drawer.getByRole("button", { name: "Close" }).click();
  await expect(
    phone
      .locator(".way")
      .getByText(site ?? "", { exact: true })
      .first(),
  ).toBeVisible();
  await phone.context().close();
});
