/** Commands of the office over a bad line, by two at once, and past the end of a sign-in: nothing is done twice, nothing typed is lost. */
import { expect, type Page } from "@playwright/test";
import { choose, command, Program, signIn, test } from "./program.js";

const program = new Program();

test.beforeAll(() => program.start(0));
test.afterAll(() => program.remove());

async function fillOrder(page: Page, problem: string) {
  await page.getByLabel(/Customer: part/).fill("distill");
  await page.getByRole("button", { name: /Innisgarve Distillers/ }).click();
  await choose(page.getByRole("combobox", { name: "Site" }));
  await page.getByLabel("Problem or plan").fill(problem);
}

/** The work orders with a problem that wait to be planned. */
const opened = (page: Page, problem: string) =>
  page.evaluate(async (p) => {
    const board = await (await fetch("/api/office/board")).json();
    return board.unplaced.filter((o: { problem: string }) => o.problem === p) as { id: string; number: string }[];
  }, problem);

/** Lets commands arrive and loses so many of their answers. */
async function loseAnswers(page: Page, count: number) {
  let left = count;
  await page.route("**/api/office/entries", async (route) => {
    if (left-- <= 0) return route.continue();
    await route.fetch();
    await route.abort();
  });
}

test("an answer that was lost makes no second order", async ({ page }) => {
  await program.office(page, "/office/intake");
  await loseAnswers(page, 1);
  await fillOrder(page, "Answer lost once");
  await page.getByRole("button", { name: "Open work order" }).click();
  await expect(page.getByRole("dialog", { name: "Plan a visit" })).toBeVisible();
  expect(await opened(page, "Answer lost once")).toHaveLength(1);

  await page.goto(`${program.url}/office/intake`);
  await loseAnswers(page, 4);
  await fillOrder(page, "No answer at all");
  await page.getByRole("button", { name: "Open work order" }).click();
  await expect(page.getByText("it is not known whether this was recorded")).toBeVisible();
  await expect(page.getByLabel("Problem or plan")).toHaveValue("No answer at all");
  await page.getByRole("button", { name: "Open work order" }).click();
  await expect(page.getByRole("dialog", { name: "Plan a visit" })).toBeVisible();
  expect(await opened(page, "No answer at all"), "pressed twice, opened once").toHaveLength(1);

  await page.goto(`${program.url}/office/intake`);
  await loseAnswers(page, 4);
  await fillOrder(page, "What was meant first");
  await page.getByRole("button", { name: "Open work order" }).click();
  await expect(page.getByText("it is not known whether this was recorded")).toBeVisible();
  await page.getByLabel("Problem or plan").fill("What was meant then");
  await page.getByRole("button", { name: "Open work order" }).click();
  const told = page.getByRole("alert").filter({ hasText: "What you pressed first had arrived" });
  const [first] = await opened(page, "What was meant first");
  await expect(told).toContainText(first.number);
  expect(await opened(page, "What was meant then")).toHaveLength(0);
});

test("two who plan the same work are told of each other", async ({ page, browser }) => {
  await program.office(page, "/office/intake");
  await fillOrder(page, "Both want to plan this");
  await page.getByRole("button", { name: "Open work order" }).click();
  const form = page.getByRole("dialog", { name: "Plan a visit" });
  await choose(form.getByRole("combobox", { name: "Technician" }), "Ansa Vane");
  const [order] = await opened(page, "Both want to plan this");

  const other = await (await browser.newContext()).newPage();
  await program.office(other, "/office", "petrok");
  const tomorrow = new Date(Date.now() + 86_400_000).toISOString();
  await command(other, "visit.planned", { type: "visit", id: "planned-by-petrok" }, { order: order.id, technician: "dilys", start: tomorrow, minutes: 60 });
  await other.context().close();

  await form.getByRole("button", { name: "Plan and send" }).click();
  await expect(form.getByRole("alert")).toContainText("Somebody was quicker");
  await expect(form.getByRole("alert")).toContainText("Petrok Aldane");
  await form.getByRole("button", { name: "Plan and send" }).click();
  await expect(page.getByText(/Sent to Ansa Vane/), "a work order may need two visits").toBeVisible();
});

test("two who change a record see both values", async ({ page, browser }) => {
  await program.office(page, "/office/records/site/S001");
  const access = page.getByLabel("Access", { exact: true });
  const before = await access.inputValue();
  await access.fill("By the slipway");

  const other = await (await browser.newContext()).newPage();
  await program.office(other, "/office", "petrok");
  await command(other, "record.amended", { type: "site", id: "S001" }, { access: "Gate code 9" }, { access: before });
  await other.context().close();

  await page.getByRole("button", { name: "Save", exact: true }).click();
  const told = page.getByRole("alert").filter({ hasText: "Somebody was quicker" });
  await expect(told).toContainText("Gate code 9");
  await expect(told).toContainText("By the slipway");
  await expect(access, "what was typed stays").toHaveValue("By the slipway");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.reload();
  await expect(access).toHaveValue("By the slipway");
});

test("what is half typed outlives the end of a sign-in", async ({ page }) => {
  await program.office(page, "/office/intake");
  await fillOrder(page, "Typed before the sign-in ran out");
  const press = page.locator("button[type=submit]", { hasText: "Open work order" });
  await page.context().clearCookies({ name: "iter_session" });
  const answered = page.waitForResponse("**/api/office/entries");
  await press.dispatchEvent("click"); // a question of the screen's own may have asked to sign in before, over the form
  await signIn(page, "mirin");
  // What was pressed arrives before that, or after it.
  const dialog = page.getByRole("dialog", { name: "Plan a visit" });
  if (!(await answered).ok()) {
    const again = page.getByRole("button", { name: "Open work order" });
    await expect(again.or(dialog)).toBeVisible();
    if (await again.isVisible()) {
      await expect(page.getByLabel("Problem or plan")).toHaveValue("Typed before the sign-in ran out");
      await again.click();
    }
  }
  await expect(dialog).toBeVisible();
  expect(await opened(page, "Typed before the sign-in ran out")).toHaveLength(1);
});
