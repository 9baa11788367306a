/** The shared terminal in the workshop, and labels that are scanned. */
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { zone } from "../playwright.config.js";
import { wrongs } from "./accessible.js";
import { film, withCamera } from "./camera.js";
import { command, Program, signIn, test } from "./program.js";
import { scan } from "./scanner.js";

const program = new Program();

test.beforeAll(() => program.start());
test.afterAll(() => program.remove());

interface Badge {
  person: string;
  name: string;
  number: string;
  code: string;
}

const label = (text: string, kind = "qr") => `/api/office/label?kind=${kind}&text=${encodeURIComponent(text)}`;

const accessible = async (page: Page) => expect(await wrongs(page)).toEqual([]);

const running = (page: Page) => page.locator(".terminal-running b");

test("several people in a row at the workshop terminal, by camera, scanner and PIN, through a loss of network", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "petrok");
  await expect(office.getByText("To place")).toBeVisible();
  const badges: Badge[] = await office.evaluate(async () => (await fetch("/api/office/badges")).json());
  const badge = (person: string) => badges.find((b) => b.person === person)!;
  // Work in the workshop today, for Lowen, who has no visits.
  const order = "wbench";
  const site: { id: string; site: { customer: string } } = await office.evaluate(
    async () => (await (await fetch("/api/office/customers?q=dairies")).json())[0].sites[0],
  );
  const tasks = ["Strip the pump", "Replace bearings", "Paint"].map((name, i) => ({ id: `t${i + 1}`, name }));
  await command(
    office,
    "work.opened",
    { type: "workorder", id: order },
    { customer: site.site.customer, site: site.id, problem: "Overhaul in the workshop", priority: "normal", minutes: 300, tasks },
  );
  const visit = { type: "visit", id: "vbench" };
  const number: string = await office.evaluate(async (id) => (await (await fetch(`/api/office/orders/${id}`)).json()).order.number, order);
  await command(office, "visit.planned", visit, { order, technician: "lowen", start: new Date().toISOString(), minutes: 300 });
  await command(office, "visit.sent", visit, {});

  const file = join(program.data, "badge.y4m");
  await film(office, label(badge("lowen").code), file);
  const tablet = await withCamera(file);
  const context = await tablet.newContext({ viewport: { width: 1280, height: 800 }, locale: "en-GB", timezoneId: zone });
  const page = await context.newPage();
  await page.goto(program.url);
  await signIn(page, "workshop");
  await expect(page.getByRole("heading", { name: "Show your badge" })).toBeVisible();
  await expect(page.locator(".terminal-sync")).toHaveText("All at office");

  await accessible(page);

  // Lowen's badge in front of the camera.
  await page.getByRole("button", { name: "Use the camera" }).click();
  await expect(page.getByRole("heading", { name: "Lowen Brask" })).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Start: Strip the pump" }).click();
  await expect(running(page)).toContainText("Strip the pump");
  await accessible(page);
  await page.getByRole("button", { name: "Start: Replace bearings" }).click();
  await expect(running(page)).toContainText("Replace bearings");
  await page.getByRole("button", { name: "Put on hold: Strip the pump" }).click();
  await expect(page.locator(".task", { hasText: "Strip the pump" })).toContainText("on hold");
  await page.getByRole("button", { name: "Ask for a part" }).click();
  await page.getByLabel("Which part").fill("Bearing 6306");
  await page.getByRole("button", { name: "Send", exact: true }).click();

  // He leaves, and his badge is still before the camera: he stays away until it was.
  await page.getByRole("button", { name: /^Done ·/ }).click();
  await expect(page.getByRole("heading", { name: "Show your badge" })).toBeVisible();
  await expect.poll(() => page.locator("video.camera").evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(4);
  await expect(page.getByRole("heading", { name: "Show your badge" })).toBeVisible();

  // The network goes. The next badge, at the scanner, takes over; her PIN was not heard here before.
  await context.setOffline(true);
  await scan(page, badge("dilys").code);
  await expect(page.getByRole("heading", { name: "Dilys Rusk" })).toBeVisible();
  // A step that she was not planned on: from its label, and from the number of the work order.
  await scan(page, `ITER-T/${order}/t3`);
  await expect(running(page)).toContainText("Paint");
  const others = page.getByRole("region", { name: "Another step" });
  await others.getByLabel("Number of the work order").fill(number);
  await others.getByRole("button", { name: "Start: Strip the pump" }).click();
  await expect(running(page)).toContainText("Strip the pump");
  await page.getByRole("button", { name: "Training" }).click();
  await expect(running(page)).toContainText("Training");
  // Lowen has put his badge away: the camera sees nobody.
  await page.evaluate(() => {
    navigator.mediaDevices.getUserMedia = () => new Promise(() => {});
  });
  await page.getByRole("button", { name: /^Done ·/ }).click();
  await page.getByRole("button", { name: "Camera off" }).click();
  const typePin = async (number: string, pin: string) => {
    for (const n of number) await page.getByRole("button", { name: n, exact: true }).click();
    await page.getByRole("button", { name: "Next", exact: true }).click();
    for (const n of pin) await page.getByRole("button", { name: n, exact: true }).click();
    await page.getByRole("button", { name: "Sign in", exact: true }).click();
  };
  await typePin(badge("ansa").number, "2580");
  await expect(page.getByRole("alert").filter({ hasText: "There is no network now" })).toBeVisible();

  // It is back: number and PIN, and everything recorded reaches the office.
  await context.setOffline(false);
  await expect(page.locator(".terminal-sync")).toHaveText("All at office", { timeout: 60_000 });
  await page.reload();
  await typePin(badge("ansa").number, "2580");
  await expect(page.getByRole("heading", { name: "Ansa Vane" })).toBeVisible();
  await page.getByRole("button", { name: "Write a note" }).click();
  await page.getByLabel("Write a note").fill("The grease gun is empty");
  await page.getByRole("button", { name: "Send", exact: true }).click();
  // Nobody touches it any more: it signs her out by itself.
  await expect(page.getByRole("heading", { name: "Show your badge" })).toBeVisible({ timeout: 60_000 });

  await office.goto(`${program.url}/office/review/attention`);
  await expect(office.locator(".look-line", { hasText: "The grease gun is empty" })).toContainText("Ansa Vane", { timeout: 60_000 });
  await office.goto(`${program.url}/office/stores`);
  await expect(office.locator(".request", { hasText: "Bearing 6306" })).toContainText("Lowen Brask");
  await office.goto(`${program.url}/office/visits/vbench`);
  await expect(office.getByRole("region", { name: "Trail" })).toContainText("Lowen Brask put the task “Strip the pump” on hold");
  await expect(office.locator(".visit-page-stage")).toContainText("on site");

  // Ten wrong PINs lock the number; the badge still works.
  const statuses = await page.evaluate(async (number) => {
    const out = [];
    for (let i = 0; i < 11; i++) out.push((await fetch("/api/terminal/identify", { method: "POST", body: JSON.stringify({ number, pin: "9999" }) })).status);
    return out;
  }, badge("ansa").number);
  expect(statuses.slice(0, 9)).toEqual(Array(9).fill(403));
  expect(statuses.slice(9)).toEqual([429, 429]);
  await typePin(badge("ansa").number, "2580");
  await expect(page.getByText("this number is locked")).toBeVisible();
  await scan(page, badge("ansa").code);
  await expect(page.getByRole("heading", { name: "Ansa Vane" })).toBeVisible();
  await tablet.close();
});

for (const kind of ["qr", "code128"]) {
  test(`scanning a task's label starts the task, ${kind}`, async ({ browser }) => {
    const office = await (await browser.newContext()).newPage();
    await office.goto(program.url);
    await signIn(office, "petrok");
    await expect(office.getByText("To place")).toBeVisible();
    const id = `wscan${kind}`;
    const site: { id: string; site: { customer: string } } = await office.evaluate(
      async () => (await (await fetch("/api/office/customers?q=dairies")).json())[0].sites[0],
    );
    const tasks = [
      { id: "t1", name: "First task" },
      { id: "t2", name: "Second task" },
    ];
    await command(
      office,
      "work.opened",
      { type: "workorder", id },
      { customer: site.site.customer, site: site.id, problem: `Labels ${kind}`, priority: "normal", minutes: 60, tasks },
    );
    const visit = { type: "visit", id: `v${id}` };
    await command(office, "visit.planned", visit, { order: id, technician: "dilys", start: new Date().toISOString(), minutes: 60 });
    await command(office, "visit.sent", visit, {});
    const file = join(program.data, `task-${kind}.y4m`);
    await film(office, label(`ITER-T/${id}/t2`, kind), file);

    const field = await withCamera(file);
    const page = await (await field.newContext({ viewport: { width: 390, height: 844 }, locale: "en-GB", timezoneId: zone })).newPage();
    await page.goto(program.url);
    await signIn(page, "dilys");
    await page
      .locator(".stop", { hasText: `Labels ${kind}` })
      .getByRole("link")
      .first()
      .click();
    await page.locator(".dock").getByRole("button", { name: "Accept" }).click();
    await page.getByRole("button", { name: "Scan a label" }).click();
    await expect(page.locator(".task.running")).toContainText("Second task", { timeout: 60_000 });
    await expect(page.locator(".dock")).toContainText("On site · Second task");
    await field.close();
  });
}
