/** A firm's own region: brought as an extract, typed addresses find their place, the office sees drives, the phone has map, legs and order offline. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, expect, type Locator, type Page } from "@playwright/test";
import { PMTiles } from "pmtiles";
import { zone } from "../playwright.config.js";
import { wrongs } from "./accessible.js";
import { arrive, binary, command, dayFrom, freePort, keptForOffline, momentAt, storedAs, test } from "./program.js";

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
  const there = { latitude: 54.83, longitude: -9.25, accuracy: 9 };
  const context = { viewport, reducedMotion: "reduce", locale: "en-GB", timezoneId: zone, geolocation: there, permissions: ["geolocation"] } as const;
  const page = await (await browser.newContext({ ...context, permissions: ["geolocation"] })).newPage();
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

    // Whoever stands there says where the site is, and what was thought of the way is recorded with the step.
    await phone.goto(`${url}/field/visit/v1`);
    await arrive(phone);
    await expect(phone.getByText(/The map has it [\d.]+ km from here/)).toBeVisible();
    await phone.getByRole("button", { name: "It is here, where I stand (within 9 m)" }).click();
    await expect(phone.getByText("Ferry Cafe is on the map now.")).toBeVisible();
    await phone.context().setOffline(false);
    await expect(phone.getByText("All at office")).toBeVisible({ timeout: 60_000 });
  });

  await test.step("the office has the place, and the way that was driven", async () => {
    const { site, steps } = await office.evaluate(async (id) => {
      const page = await (await fetch(`/api/office/orders/${id}`)).json();
      const site = (await (await fetch(`/api/office/records/site/${page.order.site}`)).json()).body;
      return { site, steps: page.visits[0].visit.steps as { action: string; drive?: { metres: number; seconds: number; free?: number } }[] };
    }, first);
    expect([site.lat, site.lon]).toEqual([54.83, -9.25]);
    const drive = steps.find((s) => s.action === "set_off")?.drive;
    expect(drive?.metres).toBeGreaterThan(1000);
    expect(drive!.seconds, "twice as long as on free roads").toBeGreaterThan(1.5 * drive!.free!);
  });

  await test.step("the archive is one that others read", async () => {
    const at = join(data, "region", readdirSync(join(data, "region"))[0], "map.pmtiles");
    const raw = readFileSync(at);
    const archive = new PMTiles({
      getKey: () => at,
      getBytes: async (offset: number, length: number) => ({ data: new Uint8Array(raw.subarray(offset, offset + length)).buffer }),
    });
    const head = await archive.getHeader();
    expect([head.specVersion, head.minZoom, head.maxZoom]).toEqual([3, 3, 13]);
    const [z, x, y] = [13, Math.floor(((-9.21 + 180) / 360) * 2 ** 13), 2598];
    const tile = await archive.getZxy(z, x, y);
    const served = await office.evaluate(
      async ([z, x, y]) => {
        const { rev } = await (await fetch("/api/map")).json();
        return [...new Uint8Array(await (await fetch(`/api/map/${rev}/${z}/${x}/${y}`)).arrayBuffer())];
      },
      [z, x, y],
    );
    expect(served.length).toBeGreaterThan(100);
    expect([...new Uint8Array(tile!.data)]).toEqual(served);
  });
});
