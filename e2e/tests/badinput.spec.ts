/** What is odd, too long or too late at the office: said in a sentence, and nothing typed is lost. */
import { expect, type Page } from "@playwright/test";
import { dayFrom, go, Program, test, typeDate, typeTime } from "./program.js";

const program = new Program();

test.beforeAll(async () => {
  await program.start(0);
});

test.afterAll(async () => {
  await program.remove();
});

const name = "<script>alert(1)</script> مزرعة 🐟 Ltd";

async function newCaller(page: Page, called: string) {
  await page.getByLabel(/Customer: part/).fill(called);
  await page.getByRole("button", { name: `A new customer: ${called}` }).click();
}

test("odd names, long problems, a promise that ends before it begins, and a server that goes", async ({ page }) => {
  const alerts: string[] = [];
  page.on("dialog", (d) => {
    alerts.push(d.message());
    void d.dismiss();
  });
  await program.office(page, "/office/intake");
  await newCaller(page, name);
  const problem = page.getByLabel("Problem or plan");
  const long = "Pump stops at night. ".repeat(480); // 10,080 characters
  await problem.fill(long);
  const open = page.getByRole("button", { name: "Open work order", exact: true });
  await expect(page.getByText(/10080 characters, and there is room for 5000/)).toBeVisible();
  await expect(open).toBeDisabled();
  await page.reload();
  await expect(problem).toHaveValue(long);
  await problem.fill(long.slice(0, 4990));

  await typeDate(page.getByRole("group", { name: "Promise" }), dayFrom(1));
  await typeTime(page.getByRole("group", { name: "From" }), "15:00");
  await typeTime(page.getByRole("group", { name: "To", exact: true }), "14:00");
  await expect(page.getByText("The promise ends before it begins.")).toBeVisible();
  await expect(open).toBeDisabled();
  await typeTime(page.getByRole("group", { name: "To", exact: true }), "16:00");

  // The server is gone when it is pressed: that is said, what was typed stays, and pressed again it is opened once.
  await program.stop();
  await open.click();
  await expect(
    page
      .getByRole("alert")
      .filter({ hasText: /could not be reached|not known|no answer|does not answer/i })
      .first(),
  ).toBeVisible({ timeout: 30_000 });
  await expect(problem).toHaveValue(long.slice(0, 4990));
  await program.start(0);
  await expect(page.locator(".stale")).toHaveCount(0, { timeout: 60_000 });
  await open.click();
  await expect(page.getByRole("dialog", { name: "Plan a visit" })).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press("Escape");
  const orders = await page.evaluate(async () => (await (await fetch("/api/office/lists/orders?q=pump stops night")).json()).lines);
  expect(orders).toHaveLength(1);
  await go(page, `/office/orders/${orders[0].id}`);
  await expect(page.getByRole("link", { name }).first()).toBeVisible();
  expect(alerts).toEqual([]);

  // The same name again is asked about, and a record that is none has a sentence.
  await go(page, "/office/intake");
  await newCaller(page, "Somebody");
  await page.getByLabel("Customer's name").fill(name);
  await expect(page.getByText("There is a customer of this name already.")).toBeVisible();
  await page.getByRole("button", { name: "It is them" }).click();
  await expect(page.locator("main b", { hasText: "🐟" })).toBeVisible();
  for (const path of ["orders/none", "records/site/none", "visits/none"]) {
    await go(page, `/office/${path}`);
    await expect(page.getByRole("alert").first()).toContainText(/not in the records|is not|unknown/i);
  }
});
