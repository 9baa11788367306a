/** A company of its own, from nothing: made by commands, filled from files, worked with by keyboard alone. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { zone } from "../playwright.config.js";
import { binary, command, freePort, test } from "./program.js";

const data = mkdtempSync(join(tmpdir(), "iter-own-"));
const example = join(import.meta.dirname, "../../docs/import-example");
const coast = join(import.meta.dirname, "../../server/demo/coast.osm");
const port = freePort();
const url = `http://127.0.0.1:${port}`;
const iter = (...args: string[]) => execFileSync(binary, args, { encoding: "utf8", stdio: ["ignore", "pipe", "pipe"] });
let server: ChildProcess;

test.afterAll(() => {
  server?.kill("SIGKILL");
  rmSync(data, { recursive: true, force: true });
});

async function serve() {
  server = spawn(binary, ["serve", "--data", data, "--address", `127.0.0.1:${port}`], { stdio: ["ignore", "pipe", "inherit"] });
  await new Promise<void>((done) => server.stdout?.on("data", (c: Buffer) => c.toString().includes("Iter is at") && done()));
}

const passwordIn = (said: string) => said.trim().split(" ").at(-1)!;

async function typeIn(page: Page, login: string, password: string) {
  await page.getByLabel("Login").focus();
  await page.keyboard.type(login);
  await page.keyboard.press("Tab");
  await page.keyboard.type(password);
  await page.keyboard.press("Enter");
}

/** Tabs on until an element has the focus. */
async function tabTo(page: Page, name: RegExp | string, role: "button" | "combobox" | "textbox" = "button") {
  const target = page.getByRole(role, { name, exact: typeof name === "string" }).first();
  for (let i = 0; i < 40; i++) {
    if (await target.evaluate((e) => e === document.activeElement)) return;
    await page.keyboard.press("Tab");
  }
  throw new Error(`the keyboard never reaches ${name}`);
}

test("an empty company is founded, imported, and worked with by keyboard", async ({ browser }) => {
  const admin = passwordIn(iter("admin", "--data", data, "--login", "ada", "--name", "Ada Lund", "--company", "Lund Pumps", "--zone", zone));
  const said = iter("import", "--data", data, example);
  expect(said).toMatch(/sites.csv\s+2 new/);
  expect(iter("import", "--data", data, example)).toMatch(/sites.csv\s+0 new\s+0 changed\s+2 as they were/);
  const ann = passwordIn(iter("password", "--data", data, "--login", "ann"));

  // A bad file is refused whole, with the place and what was expected.
  const bad = mkdtempSync(join(tmpdir(), "iter-bad-"));
  writeFileSync(join(bad, "parts.csv"), "number,name,unit,price\nOK-1,Good part,each,1.50\nNO-1,Bad part,each,cheap\n");
  let refused = "";
  try {
    iter("import", "--data", data, bad);
  } catch (e) {
    refused = String((e as { stderr: string }).stderr);
  }
  expect(refused).toContain('parts.csv:3 column price: expected a number such as 12.50, found "cheap"');
  expect(refused).toContain("nothing was changed");
  rmSync(bad, { recursive: true });

  await serve();
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, timezoneId: zone })).newPage();
  await office.goto(url);
  await expect(office.getByText("Lund Pumps")).toBeVisible();
  await expect(office.getByText("Try it as"), "accounts are offered in the demo only").toHaveCount(0);
  await typeIn(office, "ada", "not the password");
  await expect(office.getByText(/do not go together/)).toBeVisible();
  await office.getByLabel("Login").fill("");
  await office.getByLabel("Password").fill("");
  await typeIn(office, "ada", admin);
  await expect(office.getByRole("heading", { name: "To place" })).toBeVisible();
  await expect(office.getByRole("region", { name: "To place" }).getByRole("link")).toHaveCount(2); // the imported work orders

  // n: a new work order, then everything by Tab, letters and Enter.
  await office.keyboard.press("n");
  await expect(office.getByLabel(/Customer: part/)).toBeFocused();
  await office.keyboard.type("kessel");
  await expect(office.getByRole("button", { name: /Kessel Dairies/ })).toBeVisible();
  await tabTo(office, /Kessel Dairies/);
  await office.keyboard.press("Enter");
  await tabTo(office, "Machine", "combobox");
  await office.keyboard.press("Enter");
  await office.keyboard.press("ArrowDown");
  await office.keyboard.press("Enter");
  await tabTo(office, /Problem or plan/, "textbox");
  await office.keyboard.type("Pump has lost its prime");
  await tabTo(office, "Open work order");
  await office.keyboard.press("Enter");
  await tabTo(office, "Technician", "combobox");
  await office.keyboard.press("Enter");
  await office.keyboard.press("Enter");
  await tabTo(office, "Plan and send");
  await office.keyboard.press("Enter");
  await expect(office.getByText(/Sent to Ann Vale/)).toBeVisible();
  await office.locator("h1").click();
  await office.keyboard.press("b");
  await expect(office.locator(".lane-list li", { hasText: "Kessel Dairy" })).toContainText("sent");

  // The firm brings its roads while the program runs; those that can't be read change nothing.
  expect(() => iter("roads", "--data", data, join(example, "sites.csv"))).toThrow(/the roads are as they were/);
  expect(iter("roads", "--data", data, coast)).toMatch(/\d+ stretches of road/);
  await command(office, "record.amended", { type: "person", id: "ann" }, { home: { lat: 54.8123, lon: -9.2145 } });

  // Ann sees it, with the way there, and her van as it was imported.
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(url);
  await typeIn(phone, "ann", ann);
  await expect(phone.locator(".stop", { hasText: "Pump has lost its prime" })).toContainText("new");
  await expect(phone.locator(".leg")).toContainText(/\d+ min .* km/);
  await phone.getByRole("link", { name: "Van" }).click();
  await expect(phone.locator(".line", { hasText: "Drop cable" })).toContainText("25.5 m");
  await phone.goto(`${url}/office`);
  await expect(phone.locator(".stop").first(), "the office is not for technicians").toBeVisible();
});
