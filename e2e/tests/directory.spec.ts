/** Anybody the firm knows, on the phone: found, opened and worked for without signal; somebody new, too. */
import { expect, type Page } from "@playwright/test";
import { command, keptForOffline, Phone, Program, signIn, test } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

const customer = "Ferrand Cold Store";
const site = "Ferrand, loading bay";

test.beforeAll(async ({ browser }) => {
  await program.start();
  const office = await (await browser.newContext()).newPage();
  await program.office(office, "/office/home");
  await command(office, "record.created", { type: "customer", id: "ferrand" }, { name: customer, contact: { name: "Ila Ferrand", phone: "01 555 6060" } });
  await command(
    office,
    "record.created",
    { type: "site", id: "ferrand-bay" },
    { customer: "ferrand", name: site, address: "8 Bay Road", contact: { name: "" } },
  );
  await command(office, "record.created", { type: "asset", id: "ferrand-pump" }, { site: "ferrand-bay", name: "Drain pump", kind: "pump", serial: "DP-19" });
  await office.context().close();
  await phone.open();
  await signIn(phone.page, "ansa");
  await keptForOffline(phone.page);
});
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

const find = async (page: Page, text: string) => {
  await page.goto(`${program.url}/field`);
  await page.getByRole("button", { name: "Find", exact: true }).click();
  await page.getByRole("searchbox").fill(text);
};

async function problemAtOffice(page: Page, problem: string) {
  await page.keyboard.press("Control+k");
  await page.getByRole("combobox", { name: "Find anything, or say what to do" }).fill(problem);
  await page.getByRole("option").filter({ hasText: problem }).first().click();
}

test("a customer whom nobody sent the phone to is found without signal, and worked for", async ({ browser }) => {
  const { page } = phone;
  await phone.context.setOffline(true);
  await find(page, "feran cold");
  await page.getByRole("link").filter({ hasText: customer }).filter({ hasText: "customer" }).first().click();
  await expect(page.getByRole("heading", { level: 1, name: customer })).toBeVisible();
  await expect(page.getByText("What this phone has.")).toBeVisible();
  await page.getByRole("button", { name: `Open work at ${site}` }).click();
  await page.getByLabel("What is to be done?").fill("Stopcock by the gate drips");
  await page.getByRole("button", { name: "Do it now" }).click();
  await expect(page).toHaveURL(/\/field\/visit\//);
  await expect(page.locator("h1")).toContainText(site);
  await expect(page.getByText("Stopcock by the gate drips").first()).toBeVisible();
  await phone.context.setOffline(false);
  await expect(page.getByText("All at office")).toBeVisible({ timeout: 60_000 });

  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await program.office(office, "/office/home");
  await problemAtOffice(office, "Stopcock by the gate");
  await expect(office.getByText(customer).first()).toBeVisible();
});

test("somebody new is entered where the work is found", async ({ browser }) => {
  const { page } = phone;
  await page.goto(`${program.url}/field`);
  await phone.context.setOffline(true);
  await page.getByRole("button", { name: "Found work" }).click();
  await page.getByRole("searchbox", { name: /^Where/ }).fill("Quillon Boatyard");
  await page.getByRole("button", { name: "Somebody new" }).click();
  await expect(page.getByRole("textbox", { name: "Customer" })).toHaveValue("Quillon Boatyard");
  await page.getByLabel("Who is there").fill("Osk Barrow");
  await page.getByLabel("Telephone").fill("01 555 7788");
  await page.getByLabel("Address").fill("3 Slip Road, Merrow");
  await page.getByLabel("Machine").fill("Slipway winch pump");
  await page.getByLabel("What is to be done?").fill("Winch pump loses oil");
  // Nothing typed is lost by a reload.
  await page.reload();
  await page.getByRole("button", { name: "Found work" }).click();
  await expect(page.getByLabel("Who is there")).toHaveValue("Osk Barrow");
  await page.getByRole("button", { name: "Do it now" }).dblclick(); // a second press makes no second order
  await expect(page.locator("h1")).toContainText("Quillon Boatyard");
  await expect(page.locator("#brief")).toContainText("Slipway winch pump");
  await phone.context.setOffline(false);
  await expect(page.getByText("All at office")).toBeVisible({ timeout: 60_000 });

  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await program.office(office, "/office/home");
  await problemAtOffice(office, "Winch pump loses oil");
  await expect(office.getByText("customer entered on site")).toBeVisible();
  const found = await office.evaluate(async () => (await (await fetch("/api/office/lists/orders?q=winch+pump+loses")).json()).total);
  expect(found).toBe(1);
  await office.getByRole("link", { name: "Quillon Boatyard" }).first().click();
  await expect(office.getByText("Osk Barrow").first()).toBeVisible();
});

test("a person is added at a customer, and is at the office", async ({ browser }) => {
  const { page } = phone;
  await find(page, customer);
  await page.getByRole("link").filter({ hasText: customer }).filter({ hasText: "customer" }).first().click();
  await expect(page.getByRole("heading", { level: 1, name: customer })).toBeVisible();
  await page.getByRole("button", { name: "Add a person", exact: true }).click();
  await page.getByRole("textbox", { name: /^Contact/ }).fill("Wenna Tarn");
  await page.getByLabel("Phone", { exact: true }).fill("01 555 3141");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Wenna Tarn")).toBeVisible();
  await expect(page.getByText("All at office")).toBeVisible({ timeout: 60_000 });
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await program.office(office, "/office/home");
  await problemAtOffice(office, customer);
  await expect(office.getByText("Wenna Tarn").first()).toBeVisible();
});
