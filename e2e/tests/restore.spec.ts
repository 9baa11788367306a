/** The office goes back to a copy of before: phones and browsers give again what it had acknowledged since, once, and no number is given twice. */
import { execFileSync } from "node:child_process";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { binary, choose, openWork, Phone, Program, photos, signIn, test, write } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);
const copy = mkdtempSync(join(tmpdir(), "iter-copy-"));

test.beforeAll(() => program.start(1));
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
  rmSync(copy, { recursive: true, force: true });
});

/** Opens work as the dispatcher does, and gives its number. */
async function openWorkOrder(office: Page, problem: string): Promise<string> {
  await office.goto(`${program.url}/office/intake`);
  await office.getByLabel(/Customer: part/).fill("distill");
  await office.getByRole("button", { name: /Innisgarve Distillers/ }).click();
  await choose(office.getByRole("combobox", { name: "Site" }));
  await office.getByLabel("Problem or plan").fill(problem);
  await office.getByRole("button", { name: "Open work order" }).click();
  await expect(office.getByRole("dialog", { name: "Plan a visit" })).toBeVisible();
  const [number] = await numbersOf(office, problem);
  return number;
}

const numbersOf = (office: Page, problem: string) =>
  office.evaluate(async (p) => {
    const board = await (await fetch("/api/office/board")).json();
    return (board.unplaced as { problem: string; number: string }[]).filter((o) => o.problem === p).map((o) => o.number);
  }, problem);

test("what was acknowledged since the copy is there again", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  await phone.open();
  const { page, context } = phone;
  await signIn(page, "ansa");
  const allThere = () => expect(page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });
  await allThere();

  execFileSync(binary, ["backup", "--data", program.data, copy]);

  const number = await openWorkOrder(office, "Opened since the copy");
  const visit = await openWork(page);
  await write(page, "Written since the copy");
  const shown = (await page.locator(".photo").count()) + 1;
  await page
    .locator("input[type=file][multiple]")
    .first()
    .setInputFiles(await photos(await context.newPage(), 1));
  await expect(page.locator(".photo")).toHaveCount(shown);
  await allThere();

  await program.stop("SIGKILL");
  rmSync(program.data, { recursive: true });
  cpSync(copy, program.data, { recursive: true });
  await program.start(1);

  // The browser notices by itself, as soon as its line is there again.
  await expect.poll(() => numbersOf(office, "Opened since the copy"), { timeout: 60_000 }).toEqual([number]);
  expect(Number(await openWorkOrder(office, "Opened after the fire"))).toBeGreaterThan(Number(number) + 1);
  await page.reload();
  await allThere();
  await office.goto(`${program.url}/office/visits/${visit}`);
  await expect(office.getByRole("region", { name: "Notes" }).getByText("Written since the copy")).toHaveCount(1);
  const shot = office.locator(".shots img").first();
  await shot.scrollIntoViewIfNeeded();
  await expect.poll(() => shot.evaluate((i: HTMLImageElement) => i.naturalWidth)).toBeGreaterThan(0);
  await expect(page.locator(".photo")).toHaveCount(shown);
  await program.stop();
  expect(program.verify()).toContain("everything is what they fold to");
});
