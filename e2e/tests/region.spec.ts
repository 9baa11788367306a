/** A firm's own region: brought as an extract, typed addresses find their place, the office sees drives, the phone has map, legs and order offline. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, expect, type Locator, type Page } from "@playwright/test";
import { zone } from "../playwright.config.js";
import { wrongs } from "./accessible.js";
import { binary, command, dayFrom, freePort, keptForOffline, momentAt, storedAs, test } from "./program.js";

const data = mkdtempSync(join(tmpdir(), "iter-region-"));
const example = join(import.meta.dirname, "../../docs/import-example");
const coast = join(import.meta.dirname, "../../server/demo/coast.osm");
const port = freePort();
const url = `http://127.0.0.1:${port}`;
const iter = (...args: string[]) => execFileSync(binary, args, { encoding: "utf8", stdio: ["ignore", "pipe", "pipe"] });
const passwordIn = (said: string) => said.trim().split(" ").at(-1)!;
let server: ChildProcess;

test.afterAll(() => {
  server?.kill("SIGKILL");
  rmSync(data, { recursive: true, force: true });
});

async function serve() {
  server = spawn(binary, ["serve", "--data", data, "--address", `127.0.0.1:${port}`], { stdio: ["ignore", "pipe", "inherit"] });
  await new Promise<void>((done) => server.stdout?.on("data", (c: Buffer) => c.toString().includes("Iter is at") && done()));
}

async function typeIn(browser: Browser, login: string, secret: string, viewport: { width: number; height: number }) {
  const page = await (await browser.newContext({ viewport, reducedMotion: "reduce", locale: "en-GB", timezoneId: zone })).newPage();
  await page.goto(url);
  await page.getByLabel("Login").fill(login);
  await page.getByLabel("Password").fill(secret);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  return page;
}

/** A map that has drawn what there is to see. */
const drawn = (within: Page | Locator) => within.locator("[aria-busy=false] canvas");

/** Takes a call of somebody new, whose address is looked up; gives what is offered first. */
async function call(page: Page, name: string, address: string, offered: RegExp) {
  await page.goto(`${url}/office/intake`);
  await page.getByLabel(/Customer: part/).fill(name);
  await page.getByRole("button", { name: /A new customer/ }).click();
  await page.getByLabel("Address", { exact: true }).fill("somewhere");
  const field = page.getByLabel("Address of the site");
  await field.fill(address);
  await page.getByRole("option", { name: offered }).first().click();
  await expect(field).toHaveValue(/, (Orrisk|Tessary)$/);
  await expect(page.getByRole("img", { name, exact: true }), "its mark on the map").toBeVisible();
  await expect(drawn(page)).toBeVisible();
  await page.getByLabel("Problem or plan").fill(`Look at the pump of ${name}`);
  await page.getByRole("button", { name: "Open work order" }).click();
  await page.getByRole("dialog", { name: "Plan a visit" }).waitFor();
  const orders = await page.evaluate(async () => (await (await fetch("/api/office/board")).json()).unplaced as { id: string; problem: string }[]);
  return orders.find((o) => o.problem.endsWith(name))!.id;
}

test("an extract is brought, an address finds its place, and the phone has map, legs and order with no signal", async ({ browser }) => {
  const admin = passwordIn(iter("admin", "--data", data, "--login", "ada", "--name", "Ada Lund", "--company", "Lund Pumps", "--zone", zone));
  iter("import", "--data", data, example);
  const ann = passwordIn(iter("password", "--data", data, "--login", "ann"));
  await serve();
  const office = await typeIn(browser, "ada", admin, { width: 1280, height: 800 });
  await expect(office.getByRole("navigation", { name: "Office" })).toBeVisible();

  await test.step("without a region it is said, and what is broken changes nothing", async () => {
    await office.goto(`${url}/office/setup/roads`);
    await expect(office.getByText("You have brought no region yet")).toBeVisible();
    const broken = join(data, "broken.osm");
    writeFileSync(broken, "<osm><way");
    for (const bad of [broken, join(example, "sites.csv")]) expect(() => iter("roads", "--data", data, bad)).toThrow(/the roads are as they were/);
    writeFileSync(broken, '<osm><node id="1" version="1" lat="1" lon="2"/></osm>');
    expect(() => iter("roads", "--data", data, broken)).toThrow(/there are no roads in it/);
  });

  await test.step("the region comes while the program runs", async () => {
    expect(iter("roads", "--data", data, "--buildings", coast)).toMatch(/\d+ stretches of road, .* \d+ houses with a number/);
    expect(readdirSync(join(data, "region"))).toHaveLength(1);
    await expect(async () => {
      await office.reload();
      await expect(office.getByText("A made-up coast, free to use").first()).toBeVisible({ timeout: 2000 });
    }).toPass({ timeout: 30_000 });
    await office.getByRole("button", { name: "Add hours" }).click();
    await office.getByLabel("Takes, in per cent").fill("900");
    await expect(office.getByRole("button", { name: "Save", exact: true })).toBeDisabled();
    await office.getByLabel("Takes, in per cent").fill("200");
    await office.getByLabel("From hour").fill("0");
    await office.getByLabel("To hour").fill("24");
    await office.getByRole("button", { name: "Save", exact: true }).click();
    await expect(office.getByText("Saved.")).toBeVisible();
    expect(await wrongs(office)).toEqual([]);
  });

  const first = await call(office, "Ferry Cafe", "14 kiln raod orrisk", /Kiln Road, Orrisk/);
  expect(await wrongs(office), "a drawer over a map").toEqual([]);
  const second = await call(office, "Chapel Laundry", "Tessary, mill brae 9", /Mill Brae, Tessary/);

  await test.step("a site's mark is moved by degrees, and swapped ones are told", async () => {
    const page = await office.evaluate(async (id) => (await (await fetch(`/api/office/orders/${id}`)).json()).order.site as string, first);
    await office.goto(`${url}/office/records/site/${page}`);
    const place = office.getByRole("region", { name: "Where it is" });
    await expect(drawn(place)).toBeVisible();
    const degrees = place.getByLabel("Degrees north, degrees east");
    await degrees.fill("-9.21, 54.81");
    await expect(place.getByText("North and east look swapped")).toBeVisible();
    await place.getByRole("button", { name: "Swap them" }).click();
    await office.reload(); // it is kept until it is saved
    await place.getByRole("button", { name: "Save the place" }).click();
    await expect(place.getByRole("button", { name: "Save the place" })).toHaveCount(0);
    await expect(degrees).toHaveValue("54.81000, -9.21000");
    expect(await wrongs(office)).toEqual([]);
  });

  await test.step("two visits are planned, and the board has the drive", async () => {
    await command(office, "record.amended", { type: "person", id: "ann" }, { home: { lat: 54.776, lon: -9.131 } });
    for (const [id, order, at] of [
      ["v1", first, "09:00"],
      ["v2", second, "13:00"],
    ]) {
      const visit = { type: "visit", id };
      await command(office, "visit.planned", visit, { order, technician: "ann", start: momentAt(dayFrom(1), at).toISOString(), minutes: 60 });
      await command(office, "visit.sent", visit, {});
    }
    await office.goto(`${url}/office/?date=${dayFrom(1)}`);
    const lane = office.getByRole("region", { name: "Ann Vale" });
    await expect(lane.locator("li", { hasText: "Ferry Cafe" })).toContainText(/drive \d+ min/);
    await expect(lane.locator("li", { hasText: "Chapel Laundry" })).toContainText(/drive \d+ min/);
  });

  await test.step("the phone has it all with no signal", async () => {
    const phone = await typeIn(browser, "ann", ann, { width: 390, height: 844 });
    await expect(phone.getByText("All at office")).toBeVisible();
    await keptForOffline(phone);
    expect(JSON.parse(await storedAs(phone, "ann", "tiles")).length, "tiles that are kept").toBeGreaterThan(0);
    await phone.context().setOffline(true);
    await phone.goto(`${url}/field?day=${dayFrom(1)}`);
    await expect(phone.locator(".leg").first()).toContainText(/\d+ min .* km/);
    await phone.getByRole("button", { name: "Map", exact: true }).click();
    await expect(drawn(phone)).toBeVisible();
    await expect(phone.getByRole("button", { name: "1 Ferry Cafe" })).toBeVisible();
    await expect(phone.getByText("Map: A made-up coast, free to use")).toBeVisible();
    expect(await wrongs(phone)).toEqual([]);
    await phone.getByRole("button", { name: "2 Chapel Laundry" }).click();
    await expect(phone.getByRole("heading", { name: /Chapel Laundry/ })).toBeVisible(); // the way there, road by road
    await phone.getByRole("button", { name: "Close" }).click();
    await phone.getByRole("button", { name: "Order", exact: true }).click();
    await phone.getByRole("button", { name: "Least driving" }).click();
    await expect(phone.getByRole("dialog")).toContainText(/already the order with the least driving|Saves/);
  });
});
