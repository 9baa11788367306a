/** The day on the phone, as its technician wants it: the stops in an order of one's own, the day begun again, a phone held sideways. */
import { expect } from "@playwright/test";
import { command, Phone, Program, signIn, test } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

test.beforeAll(async ({ browser }) => {
  await program.start(0);
  const office = await (await browser.newContext()).newPage();
  await office.goto(program.url);
  await signIn(office, "petrok");
  await expect(office.getByText("To place")).toBeVisible();
  // Somebody with nothing else to do: what the demo's people are at by now hangs on the hour.
  await command(office, "record.created", { type: "person", id: "tove" }, { name: "Tove Linde", short: "T. Linde", roles: ["technician"] });
  const [customer] = await office.evaluate(async () => (await fetch("/api/office/customers?q=water board")).json());
  for (const n of [0, 1, 2]) {
    const order = { customer: customer.id, site: customer.sites[n].id, problem: `Stop ${n}`, priority: "normal", minutes: 30 };
    await command(office, "work.opened", { type: "workorder", id: `w-stop${n}` }, order);
    const visit = { type: "visit", id: `v-stop${n}` };
    const start = new Date(Date.now() + n * 60_000).toISOString();
    await command(office, "visit.planned", visit, { order: `w-stop${n}`, technician: "tove", start, minutes: 30 });
    await command(office, "visit.sent", visit, {});
  }
  await office.context().close();
  await phone.open();
  await signIn(phone.page, "tove", program.newPassword("tove"));
  await expect(phone.page.locator(".stop", { hasText: /Stop [012]/ })).toHaveCount(3);
  await expect(phone.page.locator("header")).toContainText("driving"); // by ways that came after the stops
});

test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

test("the stops are put in an order of one's own, with the keyboard too, and stay in it", async () => {
  const { page } = phone;
  await page.getByRole("button", { name: "Order", exact: true }).click();
  const lines = page.locator(".own-order li");
  await expect(lines.filter({ hasText: "Stop 2" })).toBeVisible();
  const at = (await lines.allTextContents()).findIndex((text) => text.includes("Stop 2"));
  expect(at).toBeGreaterThan(0);
  const site = await lines.nth(at).locator(".strong").textContent();
  await lines
    .nth(at)
    .getByRole("button", { name: `Move ${site}` })
    .focus();
  await page.keyboard.press("Space");
  for (let n = at + 1; n >= 1; n--) {
    await expect(page.getByText(`${site}: ${n} of ${await lines.count()}`)).toBeAttached();
    await page.evaluate(() => new Promise((heard) => setTimeout(heard))); // keys are listened to a turn after the start is said
    await page.keyboard.press(n > 1 ? "ArrowUp" : "Space");
  }
  await expect(lines.first()).toContainText("Stop 2");
  await page.getByRole("button", { name: "Take them in this order" }).click();
  const first = page.locator(".way .stop:not(.done)").first();
  await expect(first).toContainText("Stop 2");
  await page.reload();
  await expect(first).toContainText("Stop 2");
});

test("what is pressed right after a stop was opened is not the step of another", async () => {
  const { page } = phone;
  await page.goto(`${program.url}/field`);
  await expect(page.locator(".dock").getByRole("button", { name: "Accept" })).toBeVisible(); // of the first stop
  await page
    .locator(".stop", { hasText: "Stop 1" })
    .getByRole("link")
    .evaluate(async (link: HTMLElement) => {
      link.click();
      await Promise.resolve();
      [...document.querySelectorAll<HTMLElement>(".dock button")].find((b) => b.textContent === "Accept")?.click();
    });
  await expect(page.getByRole("region", { name: "Brief" }).getByText("Stop 1")).toBeVisible();
  await page.goto(`${program.url}/field`);
  await expect(page.getByText("All at office")).toBeVisible();
  await expect(page.locator(".stop", { hasText: "Stop 2" }).getByRole("button", { name: /^Accept/ })).toBeVisible();
});

test("the route shows from its first moment what was answered meanwhile", async () => {
  const { page } = phone;
  await page.reload();
  const stop = page.locator(".stop", { hasText: "Stop 2" });
  const accept = stop.getByRole("button", { name: /^Accept/ });
  await expect(accept).toBeVisible();
  await accept.click();
  await expect(accept).toHaveCount(0);
  await page.locator(".tabs").getByRole("link", { name: "Time" }).click();
  await expect(page.locator(".way")).toHaveCount(0);
  const shown = page.evaluate(
    () =>
      new Promise<string>((done) => {
        const look = () => {
          const stop = [...document.querySelectorAll(".way .stop")].find((s) => s.textContent?.includes("Stop 2"));
          if (stop) done(stop.textContent ?? "");
          return stop !== undefined;
        };
        const watch = new MutationObserver(() => look() && watch.disconnect());
        watch.observe(document.body, { childList: true, subtree: true });
      }),
  );
  await page.locator(".tabs").getByRole("link", { name: "Route" }).click();
  expect(await shown).not.toContain("Accept");
});

test("a day that was ended is begun again", async () => {
  const { page } = phone;
  await page.locator(".tabs").getByRole("link", { name: "Time" }).click();
  await page.getByRole("button", { name: "Start the day" }).click();
  await page.getByRole("button", { name: "End the day" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "End the day" }).click();
  await page.getByRole("button", { name: "Start the day again" }).click();
  await expect(page.getByRole("button", { name: "End the day" })).toBeVisible();
});

test("held sideways, the dock and the head leave room for what is written", async () => {
  const { page } = phone;
  await page.setViewportSize({ width: 844, height: 390 });
  await page.goto(`${program.url}/field`);
  await page.locator(".stop a").first().click();
  await expect(page.locator(".dock")).toBeVisible();
  const height = async (what: string) => (await page.locator(what).boundingBox())!.height;
  expect((await height(".visit-head")) + (await height(".dock"))).toBeLessThan(390 / 2);
  await page.setViewportSize({ width: 390, height: 844 });
});
