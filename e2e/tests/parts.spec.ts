/** Parts, from a label that this program printed to a van that has what tomorrow needs. */
import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { type Browser, expect, type Page } from "@playwright/test";
import { zone } from "../playwright.config.js";
import { film, withCamera } from "./camera.js";
import { arrive, choose, command, dayFrom, go, leaveUnsigned, Program, signIn, test, typeDate } from "./program.js";
import { scan } from "./scanner.js";

const program = new Program();
let phone: Browser;

test.beforeAll(() => program.start());
test.afterAll(async () => {
  await phone?.close();
  await program.remove();
});

const hour = 3_600_000;
const site = { customer: "", id: "", asset: "" };

/** Somebody new with a van of their own, and work for today that needs what the van has not. */
async function prepare(office: Page): Promise<string> {
  const record = (type: string, id: string, body: object) => command(office, "record.created", { type, id }, body);
  const count = (part: string, quantity: string) => command(office, "stock.counted", { type: "stock", id: "van-tove" }, { part, quantity });
  await record("place", "van-tove", { name: "Van 20", kind: "van", person: "tove" });
  await record("person", "tove", { name: "Tove Linde", short: "T. Linde", roles: ["technician"], van: "van-tove" });
  await count("SK-38", "3");
  await count("OR-72", "5");
  await count("PT-16", "1");
  await count("DV-04", "1");
  await count("TU-06", "10");
  await count("TF-12", "2");
  const secret = program.newPassword("tove");
  const found: { sites: { id: string; site: { customer: string }; assets: { id: string }[] }[] }[] = await office.evaluate(async () =>
    (await fetch("/api/office/customers?q=dairies")).json(),
  );
  const at = found[0].sites.find((s) => s.assets.length > 0)!;
  Object.assign(site, { customer: at.site.customer, id: at.id, asset: at.assets[0].id });
  const order = {
    customer: site.customer,
    site: site.id,
    asset: site.asset,
    problem: "Seal weeps",
    priority: "soon",
    minutes: 60,
    sheets: [],
    needs: [
      { part: "SK-38", quantity: "1" },
      { part: "SV-25", quantity: "1" },
    ],
  };
  await command(office, "work.opened", { type: "workorder", id: "wseal" }, order);
  await plan(office, "vseal", "wseal", Date.now() + 60_000);
  return secret;
}

async function plan(office: Page, visit: string, order: string, start: number) {
  await command(office, "visit.planned", { type: "visit", id: visit }, { order, technician: "tove", start: new Date(start).toISOString(), minutes: 60 });
  await command(office, "visit.sent", { type: "visit", id: visit }, {});
}

/** Prints labels, has an independent reader read them, and gives the first as a picture. */
async function label(office: Page, parts: string): Promise<string> {
  const raw = await office.evaluate(async (parts) => {
    const r = await fetch(`/api/office/stores/file/labels.pdf?parts=${parts}`);
    return [...new Uint8Array(await r.arrayBuffer())];
  }, parts);
  const pdf = join(program.data, "labels.pdf");
  writeFileSync(pdf, Buffer.from(raw));
  execFileSync("pdftoppm", ["-r", "200", "-png", "-singlefile", pdf, join(program.data, "sheet")]);
  const read = execFileSync("zbarimg", ["-q", join(program.data, "sheet.png")], { encoding: "utf8" })
    .trim()
    .split("\n")
    .sort();
  expect(read).toEqual(["CODE-128:OR-72", "CODE-128:SK-38", "QR-Code:ITER-P/OR-72", "QR-Code:ITER-P/SK-38"]);
  // The second of the sheet: labels come by number, and OR-72 is the first.
  execFileSync("pdftoppm", ["-r", "200", "-png", "-singlefile", "-x", "551", "-y", "0", "-W", "551", "-H", "291", pdf, join(program.data, "label")]);
  const png = execFileSync("base64", ["-w0", join(program.data, "label.png")], { encoding: "utf8" });
  return `data:image/png;base64,${png}`;
}

const balance = async (page: Page, place: string, part: string): Promise<string> =>
  page.evaluate(
    async ([place, part]) => {
      const shelf = await (await fetch(`/api/office/stores/shelf/${place}`)).json();
      return shelf.lines.find((l: { part: string }) => l.part === part)?.balance ?? "0";
    },
    [place, part],
  );

test("parts are scanned, used, asked for, ordered, picked and loaded", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "petrok");
  await expect(office.getByText("To place")).toBeVisible();
  const secret = await prepare(office);
  const file = join(program.data, "label.y4m");
  await office.goto(`${program.url}/office/stores`); // pictures made from data are allowed on no page: made beside it
  const blank = await browser.newPage();
  await film(blank, await label(office, "SK-38,OR-72"), file);
  await blank.close();

  phone = await withCamera(file);
  const context = await phone.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, locale: "en-GB", timezoneId: zone });
  const page = await context.newPage();
  await page.goto(program.url);
  await signIn(page, "tove", secret);

  // Before leaving: what is not on the van, and who has it.
  await expect(page.getByText("1 part is not on your van")).toBeVisible();
  await page.getByRole("button", { name: /Solenoid valve DN 25/ }).click();
  const who = page.getByRole("dialog");
  await expect(who.getByRole("heading")).toHaveText("Who has Solenoid valve DN 25, 24 V?");
  await expect(who).toContainText(/Main store/);
  await expect(who).toContainText(/min, \d/);
  await who.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByText("All at office")).toBeVisible();
  await page.evaluate(() => navigator.serviceWorker.ready); // the app opens with no signal from then on

  await test.step("offline: scanned, used, taken out, invented, asked for", () => atWork(page, () => context.setOffline(true)));

  await context.setOffline(false);
  await expect(page.getByText("All at office")).toBeVisible({ timeout: 90_000 });
  expect(await balance(office, "van-tove", "SK-38")).toBe("2");
  expect(await balance(office, "van-tove", "OR-72")).toBe("-15");

  await test.step("the office asks, orders, books in", () => order(office));
  await test.step("the follow-up has its part", () => load(office, page));
  await test.step("every balance is the sum of what moved", () => add(office));
});

async function atWork(page: Page, offline: () => Promise<void>) {
  await page.locator(".stop a, .stop-answer a").first().click();
  await arrive(page);
  await offline();
  const parts = page.locator("#parts");
  const drawer = page.getByRole("dialog");
  await expect(parts).toContainText("van has 0");

  // Two taps for a scanned part.
  await parts.getByRole("button", { name: "Scan" }).click();
  await expect(drawer.locator(".basket")).toContainText("Mechanical seal kit 38 mm");
  await drawer.getByRole("button", { name: "Use 1 part", exact: true }).click();
  await expect(parts).toContainText("van 2 left");

  // A slip of typing, words in any order, a serial number.
  await parts.getByRole("button", { name: "Find a part" }).click();
  await drawer.getByLabel("Part name or number").fill("16 bar transmiter pressure");
  await drawer.getByRole("button", { name: /0–16 bar/ }).click();
  await drawer.getByLabel("Serial number").fill("LB-4711");
  await drawer.getByRole("button", { name: "Use, then pick more" }).click();
  await expect(drawer.getByRole("status")).toHaveText("1 part recorded.");
  // Twenty scans in a second, into the field that has the focus.
  await drawer.getByLabel("Part name or number").focus();
  for (let i = 0; i < 20; i++) await scan(page, "OR-72");
  await expect(drawer.locator(".basket").getByLabel("Quantity")).toHaveValue("20");
  await drawer.getByRole("button", { name: "Use 1 part", exact: true }).click();
  await expect(parts).toContainText("van -15 left");
  await expect(parts).toContainText("serial LB-4711");

  // In the wrong unit, and then as it is sold.
  await parts.getByRole("button", { name: "Find a part" }).click();
  await drawer.getByLabel("Part name or number").fill("TU-06");
  await drawer.getByRole("button", { name: /Dosing tube/ }).click();
  await drawer.getByLabel("Quantity").fill("50");
  await choose(drawer.getByLabel("Unit"), "cm");
  await drawer.getByRole("button", { name: "Use 1 part", exact: true }).click();
  await expect(parts).toContainText("0.5 m");

  // A kit asks who did the labour.
  await parts.getByRole("button", { name: "Find a part" }).click();
  await drawer.getByLabel("Part name or number").fill("dosing line");
  await drawer.getByRole("button", { name: /Dosing line renewed/ }).click();
  await expect(drawer).toContainText("€128.00 for all of it");
  await drawer.getByRole("textbox", { name: "Minutes" }).fill("25");
  await drawer.getByRole("button", { name: "Add the kit" }).click();
  await expect(parts).toContainText("25 min by Tove Linde");

  // What was fitted just now is taken out again: it is known by its serial number.
  await parts.getByRole("button", { name: "Part taken out" }).click();
  await drawer.getByRole("button", { name: /LB-4711/ }).click();
  await drawer.getByRole("button", { name: "Back to the supplier" }).click();
  await drawer.getByRole("button", { name: "Record it" }).click();
  await expect(parts).toContainText("taken out · Back to the supplier");

  // A code that nobody knows, from a scanner that types.
  await scan(page, "7777777777");
  await expect(drawer).toContainText("No part in the catalogue has the code 7777777777.");
  await drawer.getByRole("button", { name: "Add it as a one-off item" }).click();
  await drawer.getByLabel("Description").fill("Bracket from scrap");
  await drawer.getByLabel("EUR each").fill("35");
  await drawer.getByRole("button", { name: "Add", exact: true }).click();
  await expect(parts).toContainText("Bracket from scrap");
  await parts.getByRole("button", { name: "Expense or one-off" }).click();
  await drawer.getByRole("button", { name: "Kilometres" }).click();
  await expect(drawer.getByLabel("Unit")).toHaveValue("km");
  await expect(drawer.getByLabel("Quantity")).not.toHaveValue("1");
  await drawer.getByLabel("There and back").check();
  await drawer.getByLabel("Odometer before").fill("41200");
  await drawer.getByLabel("Odometer after").fill("41199");
  await expect(drawer).toContainText("The odometer counts upwards.");
  await drawer.getByLabel("Odometer after").fill("41245.5");
  await drawer.getByRole("button", { name: "Take the odometer's" }).click();
  await expect(drawer.getByLabel("Quantity")).toHaveValue("45.5");
  await drawer.getByRole("button", { name: "Add", exact: true }).click();
  await expect(parts).toContainText(/and back · [\d.]+ km by road · 45.5 km by the odometer · price by the office/);

  // Asked for, for the customer to approve.
  await parts.getByRole("button", { name: "Ask for a part" }).click();
  await drawer.getByLabel("What is needed").fill("The large dosing pump");
  await drawer.getByLabel("Note for the office").fill("The old one is worn out");
  await drawer.getByLabel("The customer must approve it first").check();
  await drawer.getByRole("button", { name: "Ask the office" }).click();
  await drawer.getByRole("button", { name: "Done" }).click();
  await expect(parts).toContainText("The large dosing pump");
  await page.locator(".dock").getByRole("button", { name: "Finish" }).click();
  await drawer.getByRole("button", { name: /Return needed/ }).click();
  await drawer.locator(".choice").first().click();
  await page.getByRole("button", { name: "Finish the visit" }).click();
  await leaveUnsigned(page); // nobody there to sign
  await expect(page.locator(".visit-title")).toContainText("finished");
}

async function order(office: Page) {
  await go(office, "/office/stores");
  const line = office.locator(".request", { hasText: "The large dosing pump" });
  await expect(line).toContainText("The old one is worn out");
  await expect(line).toContainText("ask the customer");
  await expect(line.getByRole("button", { name: /^Order/ })).toHaveCount(0);
  await line.getByRole("button", { name: "Which part?" }).click();
  await office.getByLabel("Part name or number").fill("dosing pump 90");
  await office.getByRole("button", { name: /Dosing pump 90/ }).click();
  await line.getByRole("button", { name: "Customer approves" }).click();
  await expect(line).toContainText("approved");
  // The store may have some: this one is ordered all the same.
  await line.getByRole("button", { name: /^Order/ }).click();
  await expect(line).toContainText("ordered");
  await go(office, "/office");
  await expect(office.locator(".to-place li", { hasText: "Seal weeps" })).toContainText("waits for 1 part");

  await go(office, "/office/stores/orders");
  const bought = office.locator(".purchase", { hasText: "Dosing pump 90" });
  await expect(bought).toContainText("delivered: book it in", { timeout: 120_000 });
  const csv = await office.evaluate(async (href) => (await fetch(href!)).text(), await bought.getByRole("link", { name: "CSV" }).getAttribute("href"));
  expect(csv).toContain("Harbour Seals and Bearings");
  expect(csv).toContain("PU-90");
  await bought.getByRole("button", { name: "Book in" }).click();
  await office.getByRole("dialog").getByRole("button", { name: "Book in" }).click();
  await expect(bought).toContainText("all is in");
  await go(office, "/office");
  await expect(office.locator(".to-place li", { hasText: "Seal weeps" })).toContainText("parts are in");
}

async function load(office: Page, page: Page) {
  await plan(office, "vagain", "wseal", Date.now() + 24 * hour);
  const day = dayFrom(1);
  // The first scans come before the core is there: they are taken once it is.
  await office.addInitScript(() => {
    const load = WebAssembly.instantiateStreaming;
    const held = new Promise((done) => addEventListener("letcore", done));
    WebAssembly.instantiateStreaming = async (...which) => {
      await held;
      return load(...which);
    };
  });
  await office.goto(`${program.url}/office/stores/picks`);
  await typeDate(office.getByRole("group", { name: "For", exact: true }), day);
  const list = office.getByRole("region", { name: "Van 20" });
  await expect(list).toContainText("Dosing pump 90");
  await list.getByRole("button", { name: "Confirm by scan" }).click();
  await scan(office, "PU-90");
  await scan(office, "PU-90");
  await expect(list.getByRole("status")).toHaveText("");
  await office.evaluate(() => dispatchEvent(new Event("letcore")));
  await expect(list.getByRole("status")).toContainText("there are enough already");
  await scan(office, "GR-40");
  await expect(list.getByRole("status")).toHaveText("GR-40 is not on this list.");
  const paper = await office.evaluate(
    async (href) => [...new Uint8Array(await (await fetch(href!)).arrayBuffer())],
    await list.getByRole("link", { name: "Print" }).getAttribute("href"),
  );
  const pdf = join(program.data, "pick.pdf");
  writeFileSync(pdf, Buffer.from(paper));
  expect(execFileSync("pdftotext", ["-layout", pdf, "-"], { encoding: "utf8" })).toMatch(/Pick list Van 20[\s\S]*PU-90\s+Dosing pump 90 ml\/min/);
  await list.getByRole("button", { name: "Load 1 line to Van 20" }).click();
  await expect(list.getByText("Dosing pump 90")).toHaveCount(0);

  await page.locator(".back").click();
  await page.getByRole("link", { name: /Outbox/ }).click();
  await expect(page.getByText("1 × The large dosing pump is in, and kept for this work")).toBeVisible({ timeout: 60_000 });
  await page.getByRole("link", { name: "Van", exact: true }).click();
  await expect(page.getByText("1 part is below zero. How many are there really?")).toBeVisible();
  await page.getByRole("button", { name: "It arrived" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "All of it is here" }).click();
  const held = page.locator("li", { hasText: "Dosing pump 90" }).filter({ hasText: "kept for" });
  await expect(held).toContainText("1 kept for work order");
  // What is below zero is counted.
  await page.getByRole("button", { name: /O-ring EPDM 72/ }).click();
  await page.getByLabel("Counted").fill("4");
  await page.getByLabel("Why").fill("A box was never booked");
  await page.getByRole("button", { name: "That is how many there are" }).click();
  await expect(page.locator("li", { hasText: "O-ring EPDM 72" })).toContainText("4");
  await expect.poll(() => balance(office, "van-tove", "OR-72")).toBe("4");
  expect(await balance(office, "van-tove", "PU-90")).toBe("1");
  await go(page, "/field/visit/vagain");
  await expect(page.locator("#brief")).toBeVisible();
}

/** Adds up the movements as they are in the file, apart from the program's own sums. */
async function add(office: Page) {
  const { csv, shelves } = await office.evaluate(async () => {
    const places: { id: string; name: string }[] = await (await fetch("/api/office/stores/places")).json();
    const shelves = await Promise.all(
      places.map(async (p) => ({
        name: p.name,
        lines: (await (await fetch(`/api/office/stores/shelf/${p.id}`)).json()).lines as { part: string; balance: string }[],
      })),
    );
    return { csv: await (await fetch("/api/office/stores/file/movements.csv")).text(), shelves };
  });
  const rows = csv
    .trim()
    .split("\r\n")
    .slice(1)
    .map((r) => (r.match(/("([^"]|"")*"|[^,]*)(,|$)/g) ?? []).map((c) => c.replace(/,$/, "").replace(/^"|"$/g, "")));
  // at, place, part, name, kind, quantity, …, struck
  const sums = new Map<string, { at: string; sum: number }>();
  const moves = rows.filter((r) => r[12] !== "yes").map((r) => ({ at: r[0], key: `${r[1]} ${r[2]}`, kind: r[4], quantity: Number(r[5].replace(/^'/, "")) }));
  for (const m of moves) {
    const have = sums.get(m.key);
    if (m.kind === "count" && (!have || m.at >= have.at)) sums.set(m.key, { at: m.at, sum: m.quantity });
    else if (!have && m.kind !== "count") sums.set(m.key, { at: "", sum: 0 });
  }
  for (const m of moves) {
    const have = sums.get(m.key)!;
    if (m.kind !== "count" && m.kind !== "reserve" && m.at >= have.at) have.sum += m.quantity;
  }
  let compared = 0;
  for (const s of shelves) {
    for (const l of s.lines) {
      const want = sums.get(`${s.name} ${l.part}`)?.sum ?? 0;
      expect(Number(l.balance), `${l.part} at ${s.name}`).toBeCloseTo(want, 6);
      compared++;
    }
  }
  expect(compared).toBeGreaterThan(300);
}
