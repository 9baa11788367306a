/** Time of people and things: hours, who is off and asks to be, what is booked beside people. */
import { expect } from "@playwright/test";
import { wrongs } from "./accessible.js";
import { choose, dayFrom, go, keptForOffline, openOrder, Phone, Program, signIn, test, typeDate } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

test.beforeAll(async () => {
  await program.start(3);
  await phone.open();
  await signIn(phone.page, "ansa");
  await expect(phone.page.getByText("All at office")).toBeVisible();
});
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

test("a technician asks to be off with no signal, the office grants it, and the board knows", async ({ browser }) => {
  const { page } = phone;
  await keptForOffline(page);
  await go(page, "/field/time");
  await phone.context.setOffline(true);
  await page.getByRole("button", { name: "Ask to be off" }).click();
  const drawer = page.getByRole("dialog");
  await typeDate(drawer.getByRole("group", { name: "From" }), dayFrom(3));
  await typeDate(drawer.getByRole("group", { name: "To" }), dayFrom(2));
  await expect(drawer.getByRole("button", { name: "Ask for it" })).toBeDisabled();
  await typeDate(drawer.getByRole("group", { name: "To" }), dayFrom(4));
  await choose(drawer.getByRole("combobox", { name: "Why" }), "Leave");
  await drawer.getByLabel("Note").fill("The roof is being mended");
  await drawer.getByRole("button", { name: "Ask for it" }).click();
  await expect(drawer.getByText("Asked for, not decided yet")).toBeVisible();
  await phone.context.setOffline(false);

  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await program.office(office, "/office/home");
  const group = office.getByRole("region", { name: "Who asks to be off" });
  await group.getByRole("link", { name: /Ansa Vane/ }).click();
  const off = office.getByRole("region", { name: "Off" });
  const line = off.locator(".line", { hasText: "The roof is being mended" });
  await expect(line).toContainText("Leave");
  await line.getByRole("button", { name: "Decline" }).click();
  await expect(line).toContainText("Declined");
  await line.getByRole("button", { name: "Grant" }).click();
  await expect(line).not.toContainText("Declined");
  expect(await wrongs(office)).toEqual([]);
  await expect(drawer.getByText("Granted")).toBeVisible({ timeout: 60_000 });
  await go(office, `/office?date=${dayFrom(3)}`);
  const day = new Date(`${dayFrom(3)}T12:00:00Z`).getUTCDay();
  const lane = office.getByRole("region", { name: "Ansa Vane" });
  await expect(lane).toBeVisible();
  if (day !== 0 && day !== 6) await expect(lane).toContainText("off: Leave");

  // What was granted is taken back on the phone.
  await drawer.getByRole("button", { name: "Take it back" }).click();
  await expect(drawer.getByText("Granted")).toHaveCount(0);
});

test("hours of one's own hold from a day on, a certificate runs out, and a thing is booked beside people", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await program.office(office, "/office/people");
  await expect(office.getByRole("row", { name: /Fenna Wick/ })).toContainText("38 h a week");
  await office.getByRole("link", { name: "Cathal Pell" }).click();
  const planned = office.getByRole("region", { name: "When they can be planned" });
  await planned.getByRole("button", { name: "Add hours from a day on" }).click();
  await planned.getByLabel("Mon", { exact: true }).fill("9-noon");
  await expect(planned.getByLabel("Mon", { exact: true })).toHaveAttribute("aria-invalid", "true");
  await planned.getByLabel("Mon", { exact: true }).fill("7-12, 1230-17");
  await planned.getByLabel("Fri", { exact: true }).fill("");
  await office.reload(); // it is kept until it is saved
  await expect(planned.getByLabel("Mon", { exact: true })).toHaveValue("07:00–12:00, 12:30–17:00");
  await choose(planned.getByRole("combobox", { name: "Team" }), "South shore");
  await typeDate(planned.getByRole("group", { name: "Water treatment, until" }), dayFrom(-1));
  await planned.getByRole("button", { name: "Save" }).click();
  await expect(planned.getByText("Saved.")).toBeVisible();
  await expect(planned.getByText("Has run out")).toBeVisible();
  expect(await wrongs(office)).toEqual([]);
  const board = await office.evaluate(async () => (await fetch("/api/office/board")).json());
  const cathal = board.people.find((p: { id: string }) => p.id === "cathal");
  expect(cathal.skills, "what has run out is none").toEqual(["pumps"]);
  expect(cathal.team).toBe("south");

  await go(office, "/office/people");
  await expect(office.getByRole("row", { name: /Cathal Pell/ })).toContainText("35 h a week");
  await office.getByLabel("Name of the thing").fill("Trailer 2");
  await office.getByRole("button", { name: "Add it" }).click();
  const things = office.getByRole("region", { name: "Things that are booked" });
  await expect(things).toContainText("Trailer 2");
  await expect(things).toContainText("Work boat");
  expect(await wrongs(office)).toEqual([]);
});

test("a site's opening hours and the days it is closed stand on the phone, a thing is away for some days", async ({ browser }) => {
  const { page } = phone;
  const today = dayFrom(0);
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await program.office(office, "/office");
  const { people } = await office.evaluate(async () => (await fetch("/api/office/board")).json());
  const { visits } = people.find((p: { id: string }) => p.id === "ansa");
  const visit = visits.find((v: { stage: string }) => v.stage === "sent" || v.stage === "accepted");
  const { view } = await office.evaluate(async (id) => (await fetch(`/api/office/visits/${id}`)).json(), visit.id);
  await go(office, `/office/records/site/${view.order.site}`);
  const open = office.getByRole("region", { name: "When it can be visited" });
  await open.getByRole("button", { name: "Add hours from a day on" }).click();
  const name = new Intl.DateTimeFormat("en-GB", { weekday: "short" }).format(new Date(`${today}T12:00:00Z`));
  await open.getByLabel(name, { exact: true }).fill("9-11");
  await open.getByRole("button", { name: "Save these hours" }).click();
  await expect(open.getByText("Saved.")).toBeVisible();
  await expect(office.getByRole("region", { name: "Changes" })).toContainText("09:00–11:00");

  await go(page, `/field/visit/${visit.id}`);
  const brief = page.locator("#brief");
  await expect(brief).toContainText("Open on this day", { timeout: 60_000 });
  await expect(brief).toContainText("09:00–11:00");

  await open.getByRole("button", { name: "Add days" }).click();
  await expect(open.getByRole("button", { name: "Save these hours" })).toBeDisabled();
  await typeDate(open.getByRole("group", { name: "From", exact: true }), today);
  await typeDate(open.getByRole("group", { name: "To", exact: true }), dayFrom(1));
  await open.getByLabel("Why").fill("Stocktaking");
  await open.getByRole("button", { name: "Save these hours" }).click();
  await expect(open.getByText("Saved.")).toBeVisible();
  expect(await wrongs(office)).toEqual([]);
  await expect(brief).toContainText("Closed on this day", { timeout: 60_000 });
  await expect(brief).toContainText("Stocktaking");

  await go(office, "/office/people");
  await office.getByRole("link", { name: "Work boat" }).click();
  const had = office.getByRole("region", { name: "When it can be had" });
  await had.getByRole("button", { name: "Add days" }).click();
  await typeDate(had.getByRole("group", { name: "From", exact: true }), dayFrom(2));
  await had.getByLabel("Why").fill("On the slip");
  await office.reload(); // it is kept until it is saved
  await expect(had.getByLabel("Why")).toHaveValue("On the slip");
  await had.getByRole("button", { name: "Save these hours" }).click();
  await expect(had.getByText("Saved.")).toBeVisible();
  expect(await wrongs(office)).toEqual([]);
});

test("a plan is read by a secret address, made on the phone and ended at the office", async ({ page, browser }) => {
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(`${program.url}/field/time`);
  await signIn(phone, "dilys");
  await phone.getByRole("link", { name: "Time" }).click();
  await phone.getByRole("button", { name: "The plan in another calendar" }).click();
  const drawer = phone.getByRole("dialog");
  await drawer.getByRole("button", { name: "Make an address" }).click();
  const address = (await drawer.locator(".address").textContent())!;
  expect(await (await phone.request.get(address)).text()).toContain("BEGIN:VEVENT");

  await program.office(page, "/office/people/dilys");
  const section = page.getByRole("region", { name: "The plan in another calendar" });
  await section.getByRole("button", { name: "End it" }).click();
  await expect(section.getByRole("button", { name: "Make an address" })).toBeVisible();
  expect((await phone.request.get(address)).status()).toBe(404);
  await phone.context().close();
});

test("areas, duty, wishes and marks are kept, and the board shows what they say", async ({ page }) => {
  await program.office(page, "/office/setup/areas", "petrok");
  await page.getByRole("button", { name: "Draw an area" }).click();
  await page.getByLabel("Name of the area").fill("The harbour");
  const map = page.locator("[aria-busy=false] canvas");
  const box = (await map.boundingBox())!;
  for (const [x, y] of [
    [0.4, 0.4],
    [0.6, 0.4],
    [0.5, 0.6],
  ])
    await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
  await expect(page.getByRole("button", { name: "Drop corner 3" })).toBeVisible();
  await page.reload(); // what is drawn and not saved is still there
  await page.getByRole("button", { name: "The harbour" }).click();
  await page.getByLabel("Degrees north, east").fill("54.8, -9.2");
  await page.getByRole("button", { name: "Add the corner" }).click();
  await expect(page.getByRole("button", { name: "Drop corner 4" })).toBeVisible();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Saved", { exact: false }).first()).toBeVisible();

  await go(page, "/office/setup/plans");
  const repair = page.getByRole("group", { name: "Repair" });
  await repair.getByLabel("Word").fill("Mend");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Saved", { exact: false }).first()).toBeVisible();

  const today = dayFrom(0);
  await go(page, "/office/people");
  const duty = page.getByRole("group", { name: "Nights" });
  await duty.getByRole("button", { name: "Somebody takes days over" }).click();
  await duty.getByRole("combobox", { name: "By whom" }).click();
  await page.getByRole("option", { name: "Ansa Vane" }).click();
  await page.getByRole("region", { name: "Duty" }).getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("region", { name: "Duty" }).getByText("Saved", { exact: false })).toBeVisible();

  await openOrder(page, "wished", "For whom they ask");
  const site = await page.evaluate(async () => (await (await fetch("/api/office/orders/wished")).json()).order.site);
  await go(page, `/office/records/site/${site}`);
  const wishes = page.getByRole("region", { name: "Who goes there" });
  await wishes.getByRole("combobox", { name: "They ask for" }).click();
  await page.getByRole("option", { name: "Kerra Maddow" }).click();
  await page.keyboard.press("Escape");
  await wishes.getByRole("button", { name: "Save who goes there" }).click();
  await expect(wishes.getByText("Saved", { exact: false })).toBeVisible();

  await go(page, `/office?date=${today}`);
  await expect(page.getByRole("region", { name: "Ansa Vane", exact: true })).toContainText("duty");
  await go(phone.page, "/field/time");
  await expect(phone.page.getByRole("region", { name: "On duty" })).toContainText("Nights");
  await expect(page.locator(".trip", { hasText: "Mend" }).first()).toBeVisible();
  await page.getByRole("combobox", { name: "Area" }).click();
  await expect(page.getByRole("option", { name: "The harbour" })).toBeVisible();
  await page.keyboard.press("Escape");
  await go(page, `/office?date=${dayFrom(8)}`);
  await page
    .locator(".to-place")
    .getByRole("button", { name: /For whom they ask/ })
    .click();
  await expect(page.locator(".fits button", { hasText: "K. Maddow" })).toContainText("asked for there");
});
