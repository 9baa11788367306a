/** A technician's whole day offline with a helper, and what the office makes of it: approval, payroll, posting. */
import { readFileSync } from "node:fs";
import { expect, type Locator, type Page } from "@playwright/test";
import { arrive, choose, command, dayFrom, go, keptForOffline, leaveUnsigned, momentAt, Phone, Program, signIn, test } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

test.beforeAll(() => program.start());
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

/** The last day before today that is no weekend, and moments of it on the company's clock. */
const day = [-1, -2, -3].map(dayFrom).find((d) => new Date(d).getUTCDay() % 6 !== 0)!;
const at = (hm: string) => momentAt(day, hm);

/** Somebody new, with two visits on that day, and a helper who has no device. */
async function prepare(office: Page) {
  const record = (type: string, id: string, body: object) => command(office, "record.created", { type, id }, body);
  await record("person", "tove", { name: "Tove Linde", short: "T. Linde", roles: ["technician"] });
  await record("person", "ebbe", { name: "Ebbe Holt", short: "E. Holt", roles: ["technician"] });
  const sites: { id: string; site: { customer: string } }[] = await office.evaluate(async () => {
    const found = await (await fetch("/api/office/customers?q=dairies")).json();
    return found[0].sites.slice(0, 2);
  });
  for (const [i, start] of ["08:00", "12:00"].entries()) {
    const order = `wday${i}`;
    const tasks =
      i === 0
        ? [
            { id: "t1", name: "Change the seals" },
            { id: "t2", name: "Align the coupling" },
          ]
        : [];
    const body = {
      customer: sites[i].site.customer,
      site: sites[i].id,
      problem: i === 0 ? "Pump weeps" : "Filter clogged",
      priority: "soon",
      minutes: 120,
      tasks,
      sheets: [],
    };
    await command(office, "work.opened", { type: "workorder", id: order }, body);
    const visit = { type: "visit", id: `vday${i}` };
    await command(office, "visit.planned", visit, {
      order,
      technician: "tove",
      helpers: i === 0 ? ["ebbe"] : undefined,
      start: at(start).toISOString(),
      minutes: 120,
    });
    await command(office, "visit.sent", visit, {});
  }
  return program.newPassword("tove");
}

/** Taps, counted. */
let taps = 0;
const tap = async (l: Locator) => {
  taps++;
  await l.click();
};
async function counted(expected: number, work: () => Promise<unknown>) {
  taps = 0;
  await work();
  expect(taps).toBe(expected);
}

async function dayOffline(page: Page) {
  // A few seconds past the minute: the device corrects its clock by what it has measured, a little in either direction.
  const clock = (hm: string) => page.clock.setFixedTime(at(hm).getTime() + 5000);
  const dock = page.locator(".dock");
  const go = (name: string) => page.locator(".tabs").getByRole("link", { name }).click();

  await go("Time");
  await page.getByRole("button", { name: "Start the day" }).click();
  await expect(page.getByRole("button", { name: "Start the day" })).toHaveCount(0);
  await page.getByRole("button", { name: "Other work" }).click();
  await page.getByRole("button", { name: "Workshop" }).click();
  await expect(page.getByRole("button", { name: /Stop Workshop/ })).toBeVisible();
  await clock("07:31");

  await go("Route");
  await page
    .getByRole("button", { name: /^Accept .*/ })
    .first()
    .click();
  await expect(dock.getByRole("button", { name: "Set off" })).toBeVisible();
  await clock("08:00");
  await counted(1, () => tap(dock.getByRole("button", { name: "Set off" })));
  await expect(dock).toContainText("Travelling");
  await expect(page.getByRole("button", { name: /^Tell .*there at about/ })).toBeVisible(); // the customer can be told
  await page.getByRole("button", { name: /^Tell .*there at about/ }).click();
  await expect(page.getByLabel("Message", { exact: true })).toHaveValue(/Tove Linde of Vella Sound Pumps is on the way/);
  await page.getByRole("button", { name: "Send", exact: true }).click();
  await clock("08:30");
  await counted(1, () => tap(dock.getByRole("button", { name: "Arrived" })));
  await expect(dock).toContainText("Change the seals");

  await page.getByRole("button", { name: "Clock Ebbe Holt on" }).click();
  await expect(page.locator("#crew")).toContainText("since 08:30");
  await clock("09:30");
  await counted(1, () => tap(page.getByRole("button", { name: "Start: Align the coupling" })));
  await expect(dock).toContainText("Align the coupling");

  await clock("10:00");
  await dock.getByRole("button", { name: "Pause" }).click();
  await page.getByRole("button", { name: "Break" }).click();
  await expect(dock).toContainText("Paused");
  await clock("10:20");
  await dock.getByRole("button", { name: "Resume" }).click();
  await expect(dock).toContainText("Align the coupling"); // what was worked on goes on

  // A wrong tap, taken back within the minute.
  await clock("10:40");
  await dock.getByRole("button", { name: "Pause" }).click();
  await page.getByRole("button", { name: "Waiting for parts" }).click();
  await expect(dock).toContainText("Paused");
  await page.getByRole("button", { name: "Wrong tap: undo Pause" }).click();
  await expect(dock).toContainText("On site");

  await clock("11:30");
  // Two tasks were not ticked: they are left out with a reason, one tap for both.
  await counted(3, async () => {
    await tap(dock.getByRole("button", { name: "Finish" }));
    await tap(page.getByRole("button", { name: /Complete/ }));
    await tap(page.getByRole("button", { name: "No time for it" }));
  });
  await leaveUnsigned(page); // nobody there to sign
  await expect(page.locator(".visit-title")).toContainText("finished");

  await page.goBack();
  await page
    .getByRole("button", { name: /^Accept .*/ })
    .first()
    .press("Enter"); // what comes in above it moves it
  await clock("11:40");
  await tap(dock.getByRole("button", { name: "Set off" }));
  await expect(dock).toContainText("Travelling");
  await clock("12:10");
  await tap(dock.getByRole("button", { name: "Arrived" }));
  await expect(dock).toContainText("On site");
  await expect(page.locator(".visit-title")).toBeVisible(); // arriving opens the visit

  // The day is ended with the visit still open: it asks what to do with it.
  await clock("16:40");
  await page.goBack();
  await go("Time");
  await page.getByRole("button", { name: "End the day" }).click();
  await expect(page.getByRole("button", { name: "End the day now" })).toBeDisabled();
  await page.locator(".end-visit").getByRole("button", { name: "Complete" }).click();
  await page.getByRole("button", { name: "End the day now" }).click();
  await expect(page.getByRole("button", { name: "End the day" })).toHaveCount(0);

  // Ten minutes are not accounted for; and half an hour at the yard was never tapped.
  await expect(page.locator(".span.gap")).toHaveCount(1);
  await page.locator(".ribbon-gap").click();
  await choose(page.getByRole("combobox", { name: "What it went to" }), "Yard and van");
  await page.getByRole("button", { name: "Forgot to tap" }).click();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.locator(".span.gap")).toHaveCount(0);
}

/** What was done, as the test did it: from, to, what. Nothing here comes from the program. */
const truth = [
  ["07:30", "08:00", "workshop"],
  ["08:00", "08:30", "travel"],
  ["08:30", "09:30", "work"],
  ["09:30", "10:00", "work"],
  ["10:00", "10:20", "break"],
  ["10:20", "11:30", "work"],
  ["11:30", "11:40", "yard"],
  ["11:40", "12:10", "travel"],
  ["12:10", "16:40", "work"],
] as const;

/** The pay of a weekday by the company's rules, worked out apart: unpaid breaks of 30 minutes over six hours, to 5 minutes, overtime over 8 hours. */
function expectedPay(spans: readonly (readonly [string, string, string])[]) {
  const minutes = (hm: string) => Number(hm.slice(0, 2)) * 60 + Number(hm.slice(3));
  const length = (s: readonly [string, string, string]) => minutes(s[1]) - minutes(s[0]);
  const clocked = spans.reduce((n, s) => n + length(s), 0);
  const onBreak = spans.filter((s) => s[2] === "break").reduce((n, s) => n + length(s), 0);
  const present = clocked - onBreak;
  const unpaid = onBreak + (present > 360 ? Math.max(0, 30 - onBreak) : 0);
  const paid = Math.round((clocked - unpaid) / 5) * 5;
  return { clocked: clocked / 60, unpaid: unpaid / 60, normal: Math.min(paid, 480) / 60, overtime: Math.max(0, paid - 480) / 60 };
}

async function approveAndPay(office: Page) {
  await go(office, `/office/hours?from=${day}&to=${day}`);
  const approve = async (name: string) => {
    const person = office.getByRole("region", { name, exact: true });
    const line = person.locator(".hours-day");
    await line.locator("summary").click();
    await line.getByRole("button", { name: "Approve the day" }).click();
    await expect(line.locator("summary")).toContainText("approved");
    return line;
  };
  await expect(office.locator(".hours-exceptions", { hasText: "Tove Linde" })).toContainText("correction to approve", { timeout: 60_000 });
  const line = await approve("Tove Linde");
  await expect(line.locator("tbody tr")).toHaveCount(truth.length);
  await line.getByRole("button", { name: "How this is worked out" }).click();
  await expect(office.getByRole("dialog")).toContainText("Overtime, over 480 minutes a day");
  await expect(office.getByRole("dialog")).toContainText("Tapped 07:30, 08:00, 08:30");
  await office.keyboard.press("Escape");
  await approve("Ebbe Holt");

  const [download] = await Promise.all([office.waitForEvent("download"), office.getByRole("link", { name: "Payroll file" }).click()]);
  const [head, ...rows] = readFileSync(await download.path(), "utf8")
    .trim()
    .split("\n");
  const columns = head.split(",");
  const paid = (person: string) => {
    const cells = rows.find((r) => r.startsWith(`${person},`))?.split(",") ?? [];
    return Object.fromEntries(columns.map((c, i) => [c, cells[i]]));
  };
  const check = (person: string, want: ReturnType<typeof expectedPay>) => {
    const got = paid(person);
    expect(got.date).toBe(day);
    expect(Number(got.clocked_hours)).toBeCloseTo(want.clocked, 1); // taps within one moment differ by milliseconds
    expect(Number(got.unpaid_hours)).toBeCloseTo(want.unpaid, 1);
    expect(Number(got.normal_hours)).toBeCloseTo(want.normal, 3); // rounded: exact but for the file's four places
    expect(Number(got.overtime_hours)).toBeCloseTo(want.overtime, 3);
    expect(Number(got.double_hours)).toBe(0);
  };
  check("tove", expectedPay(truth));
  check("ebbe", expectedPay([["08:30", "11:30", "work"]]));

  // Posting twice books everything once.
  await office.getByRole("button", { name: "Post approved days" }).click();
  await expect(office.getByRole("status").filter({ hasText: "lines" })).toContainText("posted with");
  const booked = () => office.evaluate(async (card) => (await fetch(`/api/office/hours/booked/${card}`)).json(), `tove+${day}`);
  const lines: { seconds: number }[] = await booked();
  expect(lines).toHaveLength(truth.length);
  expect(lines.reduce((n, l) => n + l.seconds, 0) / 3600).toBeCloseTo(expectedPay(truth).clocked, 2);
  await office.getByRole("button", { name: "Post approved days" }).click();
  await expect(office.getByRole("status").filter({ hasText: "lines" })).toContainText("0 days posted with 0 lines");
  expect(await booked()).toEqual(lines);
  await expect(office.getByRole("region", { name: "Tove Linde" }).locator("summary").first()).toContainText("posted");
}

test("a whole day offline with a helper is approved, paid and posted", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true })).newPage();
  await office.goto(program.url);
  await signIn(office, "petrok");
  await expect(office.getByText("To place")).toBeVisible();
  const secret = await prepare(office);

  await phone.open();
  const { page, context } = phone;
  await signIn(page, "tove", secret);
  await expect(page.getByText("All at office")).toBeVisible();
  await keptForOffline(page);
  await context.setOffline(true);
  await page.clock.setFixedTime(at("07:30").getTime() + 5000);
  await page.goto(program.url);
  await expect(page.locator(".stop", { hasText: "Pump weeps" })).toBeVisible();
  await dayOffline(page);
  await context.setOffline(false);
  await page
    .locator(".tabs")
    .getByRole("link", { name: /Outbox/ })
    .click();
  await expect(page.getByText("Everything is at the office.")).toBeVisible({ timeout: 60_000 });

  await approveAndPay(office);

  // The day is locked now: a correction by the technician no longer counts, and the office sees what became of the message.
  await page.locator(".tabs").getByRole("link", { name: "Time" }).click();
  await expect(page.getByText("Only the office changes it now.").or(page.getByText("Approved and in the books"))).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole("button", { name: /^Correct/ })).toHaveCount(0);
  await go(office, "/office/visits/vday0");
  await expect(office.getByRole("region", { name: "Told the customer" })).toContainText("too late, not sent");
});

async function swipeRight(page: Page, on: Locator) {
  await on.evaluate((e) => e.scrollIntoView({ block: "center" })); // not under the dock
  let box = (await on.boundingBox())!;
  await expect(async () => {
    const before = box;
    box = (await on.boundingBox())!;
    expect(box).toEqual(before); // what comes above it is there
  }).toPass();
  await page.mouse.move(box.x + 40, box.y + 20);
  await page.mouse.down();
  for (let x = 0; x <= 120; x += 20) await page.mouse.move(box.x + 40 + x, box.y + 20);
  await page.mouse.up();
}

test("an offer is accepted offline by two; the first to be heard of has it", async ({ browser }) => {
  const office = await (await browser.newContext()).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await office.getByRole("link", { name: /^Board/ }).click();
  await expect(office.getByRole("heading", { name: "Offered" })).toBeVisible();
  let visit = "";
  const stop = (page: Page) => page.locator(".stop", { has: page.locator(`a[href="${visit}"]`) });
  const people = [];
  for (const login of ["ansa", "dilys"]) {
    const p = new Phone(program.url);
    await p.open();
    await signIn(p.page, login);
    await expect(p.page.getByText("All at office")).toBeVisible();
    await keptForOffline(p.page);
    const tomorrow = p.page.locator(".days button").nth(8);
    await tomorrow.click();
    await expect(p.page.locator(".stop", { hasText: "the first to accept has it" })).toBeVisible();
    await p.context.setOffline(true);
    const offer = p.page.locator(".stop", { hasText: "the first to accept has it" });
    visit = (await offer.locator(".stop-body").getAttribute("href"))!;
    if (login === "ansa") await offer.getByRole("button", { name: /^Accept/ }).click();
    else await swipeRight(p.page, offer.locator(".stop-body"));
    await expect(stop(p.page)).toContainText("accepted");
    people.push(p);
  }
  const [ansa, dilys] = people;
  await dilys.context.setOffline(false);
  await expect(office.getByRole("heading", { name: "Offered" })).toHaveCount(0, { timeout: 60_000 });
  await ansa.context.setOffline(false);
  await expect(ansa.page.locator(".stop.gone").and(stop(ansa.page))).toContainText("somebody else has taken it", { timeout: 60_000 });
  await ansa.page
    .locator(".tabs")
    .getByRole("link", { name: /Outbox/ })
    .click();
  await expect(ansa.page.getByText("Somebody else accepted this offer first.")).toBeVisible({ timeout: 60_000 });
  await expect(stop(dilys.page)).toContainText("accepted");
  for (const p of people) await p.remove();
});

test("the office closes a forgotten visit; its time stays where it was until the technician says when it was", async ({ browser }) => {
  const technician = new Phone(program.url);
  await technician.open();
  const { page } = technician;
  await signIn(page, "dilys");
  // One from the last working day is asked about already.
  await expect(page.locator(".confirm-end")).toHaveCount(1);
  await page
    .locator(".confirm-end")
    .getByRole("button", { name: /^At \d/ })
    .click();
  await expect(page.locator(".confirm-end")).toHaveCount(0);

  await page
    .locator(".stop", { hasText: /sent · / })
    .getByRole("link")
    .first()
    .click();
  await arrive(page);
  await expect(page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });
  const id = page.url().split("/").pop();

  const office = await (await browser.newContext()).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  await go(office, `/office/visits/${id}`);
  await office.getByRole("button", { name: "Close it" }).click();
  const hint = (await office.getByRole("dialog").textContent()) ?? "";
  const end = /ends at (?:\w+ \d+ \w+ )?(\d\d:\d\d)/.exec(hint)?.[1];
  await office.getByRole("dialog").getByRole("button", { name: "Complete" }).click();
  await office.getByRole("button", { name: "Close the visit" }).click();
  await expect(office.locator(".visit-page-stage")).toContainText("finished · Complete");
  await expect(office.locator(".visit-page-stage")).toContainText("end not confirmed");
  await expect(office.getByRole("region", { name: "Hours" })).toContainText(`–${end}`);

  await go(page, "/field");
  await expect(page.locator(".confirm-end")).toHaveCount(1, { timeout: 60_000 });
  await page
    .locator(".confirm-end")
    .getByRole("button", { name: `At ${end}` })
    .click();
  await expect(page.locator(".confirm-end")).toHaveCount(0);
  await expect(office.locator(".visit-page-stage")).not.toContainText("end not confirmed", { timeout: 60_000 });
  await expect(office.locator(".visit-page-stage")).toContainText("finished · Complete");
  await technician.remove();
});
