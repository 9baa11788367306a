/** Access and its end, as people meet it: signing out, passwords, disabled accounts, clocks of people who were not planned. */
import { expect, type Page } from "@playwright/test";
import { openWork, Phone, Program, password, signIn, test, write } from "./program.js";

const program = new Program();
let phone: Phone;

test.beforeAll(() => program.start());
test.afterAll(() => program.remove());
test.beforeEach(() => {
  phone = new Phone(program.url);
});
test.afterEach(() => phone.remove());

async function field(login: string): Promise<Page> {
  await phone.open();
  await signIn(phone.page, login);
  await expect(phone.page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });
  await phone.page.evaluate(() => navigator.serviceWorker.ready);
  return phone.page;
}

/** What is left on a device that somebody could read. */
const left = (page: Page) =>
  page.evaluate(async () => ({
    databases: (await indexedDB.databases()).map((d) => d.name).filter((n) => n?.startsWith("iter-")),
    kept: Object.keys(localStorage).filter((k) => k !== "iter.ground"),
    session: Object.keys(sessionStorage),
  }));

test("whoever signs out leaves nothing to read on the phone", async () => {
  const page = await field("ansa");
  await page.goto(`${program.url}/field/outbox`);
  await page.getByRole("button", { name: "Sign out" }).click();
  await expect(page.getByLabel("Login")).toBeVisible();
  expect(await left(page)).toEqual({ databases: [], kept: [], session: [] });
});

test("without signal it says what is not at the office, and keeps it", async ({ browser }) => {
  const page = await field("ansa");
  const visit = await openWork(page);
  await phone.context.setOffline(true);
  await write(page, "the pump room is dark");
  await page.goto(`${program.url}/field/outbox`);
  await page.getByRole("button", { name: "Sign out" }).click();
  const asked = page.getByRole("dialog");
  await expect(asked).toContainText("1 thing is not at the office yet");
  await asked.getByRole("button", { name: "Stay signed in" }).click();
  await phone.context.setOffline(false);
  await page.getByRole("button", { name: "Sign out" }).press("Enter"); // what waits leaves the screen by now: the button moves under a pointer
  // There is no second copy: what the phone forgets would be on one disk alone.
  await expect(asked).toContainText("1 thing is on the office's one disk alone");
  await asked.getByRole("button", { name: "Sign out and delete" }).click();
  await expect(page.getByLabel("Login"), "it is handed over first").toBeVisible({ timeout: 60_000 });
  const office = await (await browser.newContext()).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByRole("navigation", { name: "Office" })).toBeVisible();
  await office.goto(`${program.url}/office/visits/${visit}`);
  await expect(office.getByText("the pump room is dark").first()).toBeVisible();
  await office.context().close();
});

test("without signal whoever has nothing unsent may still sign out", async () => {
  const page = await field("ansa");
  await page.goto(`${program.url}/field/outbox`);
  await expect(page.getByRole("button", { name: "Sign out" })).toBeVisible();
  await phone.context.setOffline(true);
  await page.getByRole("button", { name: "Sign out" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Sign out and delete" }).click();
  await expect(page.getByLabel("Login")).toBeVisible();
  expect((await left(page)).databases).toEqual([]);
  await phone.context.setOffline(false);
  await signIn(page, "ansa");
  await expect(page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });
  expect((await left(page)).kept).not.toContain("iter.leaving");
});

test("whoever was not planned is asked before their clock counts", async () => {
  const page = await field("ansa");
  await openWork(page);
  await page.getByRole("button", { name: "Add somebody" }).click();
  await page.getByRole("button", { name: "Dilys Rusk" }).click();
  await expect(page.locator("#crew")).toContainText("asked, has not said yet");

  const other = new Phone(program.url);
  await other.open();
  await signIn(other.page, "dilys");
  const asked = other.page.locator(".confirm-end", { hasText: "Ansa Vane clocked you there" });
  await expect(asked).toBeVisible({ timeout: 60_000 });
  await asked.getByRole("button", { name: "Yes, I was there" }).click();
  await expect(asked).toHaveCount(0);
  await expect(page.locator("#crew"), "it is heard of by itself").not.toContainText("asked", { timeout: 60_000 });
  await expect(page.locator("#crew")).toContainText("since");
  await other.remove();
});

test("people change their own password", async () => {
  const page = await field("dilys");
  await page.goto(`${program.url}/field/outbox`);
  const change = async (old: string, fresh: string) => {
    const form = page.getByRole("dialog");
    await form.getByLabel("Password until now").fill(old);
    await form.getByLabel("New password").fill(fresh);
    await form.getByRole("button", { name: "Change it" }).click();
  };
  await page.getByRole("button", { name: "Change password" }).click();
  await change(password, "password12");
  await expect(page.getByText("one of the first that anybody would try")).toBeVisible();
  await change(password, "three herons and a kettle");
  await expect(page.getByText("Your password is changed.")).toBeVisible();
  await page.getByRole("button", { name: "Sign out" }).click();
  await signIn(page, "dilys");
  await expect(page.getByText("Login and password do not go together")).toBeVisible();
  await signIn(page, "dilys", "three herons and a kettle");
  await expect(page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });
});

test("a disabled account hands over and is out at once", async ({ page: office }) => {
  const page = await field("ansa");
  await openWork(page);
  await phone.context.setOffline(true);
  await write(page, "the last word of this account");
  await office.goto(program.url);
  await signIn(office, "petrok");
  await office.getByRole("link", { name: /Setup/ }).click();
  await office.getByRole("link", { name: "People and access" }).click();
  const line = office.getByRole("row", { name: /Ansa Vane/ });
  await line.getByRole("button", { name: "Disable" }).click();
  await office.getByRole("dialog").getByRole("button", { name: "Disable" }).click();
  await expect(line).toContainText("disabled");
  await phone.context.setOffline(false);
  await expect(page.getByText("The office ended this device's access")).toBeVisible({ timeout: 60_000 });
  expect((await left(page)).databases).toEqual([]);
  await signIn(page, "ansa");
  await expect(page.getByText("This account is disabled")).toBeVisible();
  await line.getByRole("button", { name: "Enable" }).click();
  await expect(line).not.toContainText("disabled");
  await signIn(page, "ansa");
  await expect(page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });
});
