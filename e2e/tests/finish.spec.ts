/** How visits end: signed for at once, changed afterwards, reported, come back for, asked about; mostly with no signal. */
import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { arrive, command, draw, go, keptForOffline, leaveUnsigned, Phone, Program, photos, signIn, test } from "./program.js";

const program = new Program();
const tove = new Phone(program.url);
const ebbe = new Phone(program.url);

test.describe.configure({ mode: "serial" });
test.beforeAll(async ({ browser }) => {
  await program.start();
  office = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true })).newPage();
});
test.afterAll(async () => {
  await office?.context().close();
  await tove.remove();
  await ebbe.remove();
  await program.remove();
});

let office: Page;
const problems = { va: "Seal weeps", vb: "Gauge sticks", vc: "Panel hums", vd: "No flow at all" };

/** Two technicians and four work orders at one site: three of hers, one of a colleague's. */
async function prepare() {
  await office.goto(program.url);
  await signIn(office, "petrok");
  await expect(office.getByText("To place")).toBeVisible();
  const record = (type: string, id: string, body: object) => command(office, "record.created", { type, id }, body);
  const secrets: Record<string, string> = {};
  for (const [id, name] of [
    ["tove", "Tove Linde"],
    ["ebbe", "Ebbe Holt"],
  ]) {
    await record("place", `van-${id}`, { name: `Van of ${name}`, kind: "van", person: id });
    await record("person", id, { name, short: name, roles: ["technician"], van: `van-${id}` });
    await command(office, "stock.counted", { type: "stock", id: `van-${id}` }, { part: "SK-38", quantity: "4" });
    secrets[id] = program.newPassword(id);
  }
  await record("customer", "K1", { name: "Brakken Bakery", contact: { name: "Жанна Ёлкина", role: "Owner", phone: "+353 1 555 7777" } });
  await record("site", "K1-S", {
    customer: "K1",
    name: "Brakken Bakehouse",
    lat: 54.8,
    lon: -9.2,
    contact: { name: "Жанна Ёлкина", role: "Owner", phone: "+353 1 555 7777" },
  });
  let start = Date.now();
  for (const [visit, problem] of Object.entries(problems)) {
    start += 60_000;
    const order = { customer: "K1", site: "K1-S", problem, priority: "soon", minutes: 60, sheets: [] };
    await command(office, "work.opened", { type: "workorder", id: `w${visit}` }, order);
    const technician = visit === "vc" ? "ebbe" : "tove";
    await command(office, "visit.planned", { type: "visit", id: visit }, { order: `w${visit}`, technician, start: new Date(start).toISOString(), minutes: 60 });
    await command(office, "visit.sent", { type: "visit", id: visit }, {});
  }
  return secrets;
}

/** Accepts, travels and arrives. */
async function begin(page: Page, visit: string) {
  await go(page, `/field/visit/${visit}`);
  await arrive(page);
}

/** Ends a visit; the customer is asked for a signature at once. */
async function end(page: Page, how: "Complete" | "Return needed") {
  await page.locator(".dock").getByRole("button", { name: "Finish" }).click();
  await page.getByRole("button", { name: how }).click();
}

async function work(page: Page, visit: string, how: "Complete" | "Return needed") {
  await begin(page, visit);
  await end(page, how);
}

const synced = (page: Page) => expect(page.getByText("All at office").first()).toBeVisible({ timeout: 60_000 });

async function ready(phone: Phone, login: string, secret: string) {
  await phone.open();
  await signIn(phone.page, login, secret);
  await synced(phone.page);
  await keptForOffline(phone.page);
}

test("three work orders at one site are finished and signed once, offline", async () => {
  const secrets = await prepare();
  await ready(ebbe, "ebbe", secrets.ebbe);
  await work(ebbe.page, "vc", "Complete");
  await leaveUnsigned(ebbe.page);
  await synced(ebbe.page);
  await expect(ebbe.page.locator(".visit-title")).toContainText("finished");

  await ready(tove, "tove", secrets.tove);
  const { page, context } = tove;
  await expect(page.locator(".stop", { hasText: problems.va })).toBeVisible();
  await context.setOffline(true);
  await work(page, "va", "Complete");
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByLabel(/work of your colleague Ebbe/)).toBeVisible(); // it ended before the signal went
  await dialog.getByRole("button", { name: "Cancel" }).click();
  await go(page, "/field");
  await page.getByText("1 visit still waits for you").click();
  await expect(page.locator(".waiting")).toContainText("Brakken Bakehouse");

  // Finish and sign: Finish, Complete, who signs, Save, beside the signature itself.
  await begin(page, "vb");
  await page.evaluate(() => {
    Object.assign(globalThis, { taps: 0 });
    addEventListener(
      "click",
      (e) => (e.target as Element).closest(".sign-pad") || Object.assign(globalThis, { taps: (globalThis as unknown as { taps: number }).taps + 1 }),
      true,
    );
  });
  await end(page, "Complete");
  await expect(dialog.getByText("Also unsigned at this site")).toBeVisible();
  for (const problem of [problems.va, problems.vb]) await expect(dialog.getByText(problem)).toBeVisible();
  // A colleague's comes unticked, by name.
  await expect(dialog.getByText(problems.vc)).toHaveCount(0);
  await dialog.getByLabel(/work of your colleague Ebbe/).check();
  await expect(dialog.getByText(problems.vc)).toBeVisible();
  await dialog.getByRole("button", { name: "Жанна Ёлкина" }).click();
  await draw(page);
  await page.getByRole("button", { name: "Save signature" }).click();
  expect(await page.evaluate(() => (globalThis as unknown as { taps: number }).taps)).toBeLessThanOrEqual(6);
  await expect(page.getByText("Signed for 3 work orders.")).toBeVisible();
  await expect(page.locator("#signatures")).toContainText("Жанна Ёлкина, Owner");
  await go(page, "/field");
  await expect(page.locator(".waiting")).toHaveCount(0);
});

let reported: { entry: string; code: string; pdf: string };

test("a part added afterwards changes what was signed; the phone prints what the office prints", async ({ browser }) => {
  const { page, context } = tove;
  await go(page, "/field/visit/va");
  await expect(page.locator("#signatures")).toContainText("Жанна Ёлкина");
  await expect(page.getByText("changed since signed")).toHaveCount(0);
  await page.getByRole("button", { name: "Find a part" }).click();
  await page.getByLabel("Part name or number").fill("seal 38");
  await page.getByRole("button", { name: /Mechanical seal kit 38 mm/ }).click();
  await page.getByRole("button", { name: "Use 1 part", exact: true }).click();
  await expect(page.locator("#parts")).toContainText("later, after the end");
  await page.locator("#signatures details").click();
  await expect(page.locator("#signatures .changes ins")).toContainText("Mechanical seal kit 38 mm");
  // It is offered to be signed again. Nothing is no signature, and neither is one dot.
  await page.getByRole("button", { name: "Sign again" }).click();
  await page.getByRole("button", { name: "Save signature" }).click();
  await expect(page.getByText("There is no signature yet.")).toBeVisible();
  const pad = (await page.locator(".sign-pad").boundingBox())!;
  expect(pad.width / pad.height).toBeGreaterThanOrEqual(2.99);
  await page.mouse.click(pad.x + 60, pad.y + 40);
  await page.getByRole("button", { name: "Save signature" }).click();
  await expect(page.getByRole("dialog").getByRole("alert")).not.toBeEmpty();
  await leaveUnsigned(page);

  // Findings of three thousand words, in several scripts, one of which no report can show.
  const words = Array.from({ length: 3000 }, (_, i) => `word${i}`).join(" ");
  await page.getByLabel("Write a note").fill(`Παλιά φλάντζα; Жёсткая пружина; 陳. ${words}`);
  await page.getByRole("button", { name: "Save note" }).click();
  await expect(page.locator("#notes .line").first()).toContainText("word2999");
  const [photo] = await photos(await (await browser.newContext()).newPage(), 1);
  await page.getByLabel("Take a photo", { exact: true }).setInputFiles(photo);
  await expect(page.locator("#photos .photo")).toHaveCount(1);

  await page.locator(".dock").getByRole("button", { name: "Make a report" }).click();
  await expect(page.getByText("1 of 1 photos are on it")).toBeVisible();
  await page.getByRole("button", { name: "Make it", exact: true }).click();
  await expect(page.locator(".report-line")).toContainText("Everything");
  await page.getByRole("button", { name: "Send to the customer" }).click();
  await page.getByRole("button", { name: "Send", exact: true }).click();
  await expect(page.locator(".report-line")).toContainText("for +353 1 555 7777");

  // The paper as the phone keeps it, made with no signal.
  const phones = await page.evaluate(async () => {
    const db = await new Promise<IDBDatabase>((done, fail) => {
      const r = indexedDB.open("iter-tove");
      r.onsuccess = () => done(r.result);
      r.onerror = () => fail(r.error);
    });
    const all = <T>(store: string) =>
      new Promise<T[]>((done) => {
        const r = db.transaction(store).objectStore(store).getAll();
        r.onsuccess = () => done(r.result);
      });
    const visit = (await all<{ key: string; body: { reports: { entry: string; code: string; pdf: string }[] } }>("shown")).find((d) => d.key === "visit/va")!;
    const report = visit.body.reports[0];
    const file = (await all<{ hash: string; blob: Blob }>("files")).find((f) => f.hash === report.pdf)!;
    return { report, bytes: [...new Uint8Array(await file.blob.arrayBuffer())] };
  });
  reported = phones.report;
  await context.setOffline(false);
  await synced(page);

  let answer: { status: number; bytes: number[] } = { status: 0, bytes: [] };
  await expect(async () => {
    answer = await office.evaluate(async (entry) => {
      const r = await fetch(`/api/reports/${entry}.pdf`);
      return { status: r.status, bytes: [...new Uint8Array(await r.arrayBuffer())] };
    }, reported.entry);
    expect(answer.status).toBe(200); // once its photo has come
  }).toPass({ timeout: 60_000 });
  expect(Buffer.from(answer.bytes).equals(Buffer.from(phones.bytes))).toBe(true);

  const path = join(program.data, "report.pdf");
  writeFileSync(path, Buffer.from(phones.bytes));
  expect(execFileSync("qpdf", ["--check", path], { encoding: "utf8" })).toContain("No syntax or stream encoding errors");
  const text = execFileSync("pdftotext", ["-layout", path, "-"], { encoding: "utf8" });
  for (const line of [
    "Service report",
    "Brakken Bakehouse",
    problems.va,
    "Mechanical seal kit 38 mm",
    "Жанна Ёлкина, Owner",
    "Παλιά φλάντζα; Жёсткая пружина; □.",
    "word2999",
    "can't show",
    reported.code,
  ])
    expect(text).toContain(line);
  await go(office, "/office/setup");
  await expect(office.getByRole("region", { name: "Messages to customers" })).toContainText("with a report", { timeout: 60_000 });
});

test("anyone can check a report, and a tampered one is refused", async ({ browser }) => {
  const anyone = await (await browser.newContext()).newPage();
  await anyone.goto(`${program.url}/check/${reported.code.toLowerCase()}`);
  await expect(anyone.getByRole("status")).toContainText("A report with this code was made here.");
  await expect(anyone.getByRole("status")).toContainText("Brakken Bakehouse");
  const path = join(program.data, "report.pdf");
  await anyone.getByLabel("Choose the file (PDF)").last().setInputFiles(path);
  await expect(anyone.getByRole("status")).toContainText("unchanged to the last byte");
  const forged = join(program.data, "forged.pdf");
  execFileSync("qpdf", ["--qdf", "--object-streams=disable", path, forged]); // the same pages, written anew
  await anyone.getByLabel("Choose the file (PDF)").last().setInputFiles(forged);
  await expect(anyone.getByRole("status")).toContainText("Do not rely on this file");
  await anyone.getByLabel("Code").fill("ABCDE");
  await anyone.getByRole("button", { name: "Check the code" }).click();
  await expect(anyone.getByRole("status")).toContainText("This can't be a code.");
});

test("a return goes back to planning with what it needs; found work and a word with the office cross", async () => {
  const { page, context } = tove;
  await context.setOffline(true);
  await work(page, "vd", "Return needed");
  await page.getByRole("button", { name: "A part is needed" }).click();
  await page.getByRole("button", { name: "Add a part" }).click();
  await page.getByLabel("Part name or number").fill("PT-10");
  await page
    .getByRole("button", { name: /Pressure transmitter 0–10 bar/ })
    .first()
    .click();
  await page.getByRole("textbox", { name: /How many: Pressure transmitter/ }).fill("2");
  await page.getByRole("button", { name: "Electrical" }).click();
  await page.getByRole("button", { name: "2 h 00", exact: true }).click();
  await page.getByLabel("A word for whoever comes").fill("Bring the long ladder");
  await page.getByRole("button", { name: "Finish the visit" }).click();
  // The customer is out: said instead of a signature.
  await page.getByRole("dialog").getByRole("button", { name: "Nobody signs" }).click();
  await page.getByRole("button", { name: "Nobody there" }).click();
  await page.getByRole("button", { name: "Done" }).click();
  await expect(page.locator("#signatures")).toContainText("Not signed: Nobody there");

  await page.locator("#further").getByRole("button", { name: "Recommend work" }).click();
  await page.getByLabel("What do you recommend, and why?").fill("Change the old valve");
  await page.getByLabel("A line, for example labour").fill("Labour");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await page.getByRole("button", { name: "Done" }).click();
  await page.getByRole("button", { name: "Not wanted: Labour" }).click();
  await expect(page.locator("#further")).toContainText("answered by Жанна Ёлкина");
  await page.locator("#further").getByRole("button", { name: "Found work" }).click();
  await page.getByLabel("What is to be done?").fill("Drain cover is cracked");
  await page.getByRole("dialog").getByRole("button", { name: "Close, keep what is typed" }).click();
  await page.locator("#further").getByRole("button", { name: "Found work" }).click();
  await expect(page.getByLabel("What is to be done?")).toHaveValue("Drain cover is cracked");
  await page.getByRole("button", { name: "Leave it for planning" }).click();
  // Half a note stays with the visit it was typed on.
  await page.getByLabel("Write a note").fill("The ladder was");
  await page.locator("#further").getByRole("button", { name: "Found work" }).click();
  await page.getByLabel("What is to be done?").fill("Hand rail is loose");
  await page.getByRole("button", { name: "Do it now" }).click();
  await expect(page.locator("#brief")).toContainText("Hand rail is loose");
  await expect(page.getByLabel("Write a note")).toHaveValue("");
  await page.goBack();
  await expect(page.getByLabel("Write a note")).toHaveValue("The ladder was");
  await page.getByLabel("Write a note").fill("");
  await page.locator("#talk").getByRole("button", { name: "Write" }).click();
  await page.getByLabel("Your message").fill("Who has the long ladder?");
  await page.getByRole("button", { name: "Send", exact: true }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Cancel" }).click();
  await context.setOffline(false);
  await synced(page);

  await go(office, "/office");
  const back = office.locator(".to-place li", { hasText: problems.vd });
  await expect(back).toContainText("back: A part is needed", { timeout: 60_000 });
  await expect(office.locator(".to-place li", { hasText: "Drain cover is cracked" })).toContainText("found on site");
  await back.getByRole("button", { name: problems.vd }).click();
  const before = office.getByRole("region", { name: "The visit before said" });
  await expect(before).toContainText("Bring the long ladder");
  await expect(before).toContainText("2 × Pressure transmitter 0–10 bar");
  await back.getByRole("button", { name: "Plan by form" }).click();
  await expect(office.getByLabel("Minutes *")).toHaveValue("120");
  await office.keyboard.press("Escape");

  await go(office, "/office/review/messages");
  await office.getByRole("link", { name: /Who has the long ladder/ }).click();
  await office.getByLabel("Your message").fill("It is in the yard, ask Oriel.");
  await office.getByRole("button", { name: "Send", exact: true }).click();
  await go(page, "/field");
  await expect(page.locator(".stop", { hasText: problems.vd })).toContainText("1 new message", { timeout: 60_000 });
  await page.locator(".stop", { hasText: problems.vd }).getByRole("link").click();
  await page.locator("#talk").getByRole("button", { name: "Open" }).click();
  await expect(page.locator(".said")).toContainText("ask Oriel");
  await page.getByRole("dialog").getByRole("button", { name: "Cancel" }).click();
  await go(page, "/field");
  await expect(page.locator(".stop", { hasText: problems.vd })).not.toContainText("new message");
});

test("the office goes through what is finished by keyboard, asks, and approves", async () => {
  const { page } = tove;
  await go(office, "/office/review");
  const line = office.locator("tr", { hasText: problems.va });
  await expect(line).toContainText("changed since signed", { timeout: 60_000 });
  await line.getByRole("link").click();
  await expect(office.getByRole("region", { name: "To look at" })).toContainText("changed since signed");
  await office.keyboard.press("j");
  await expect(office).not.toHaveURL(/review\/va$/);
  await office.keyboard.press("k");
  await expect(office).toHaveURL(/review\/va$/);
  await office.keyboard.press("q");
  await office.getByLabel("Your question").fill("Was the old seal kept?");
  await office.keyboard.press("Escape"); // what is half typed stays
  await expect(office.getByLabel("Your question")).toHaveCount(0);
  await office.keyboard.press("q");
  await expect(office.getByLabel("Your question")).toHaveValue("Was the old seal kept?");
  await office.getByRole("button", { name: "Ask the technician" }).last().click();
  await expect(office.getByRole("region", { name: "The office asks" })).toContainText("waits for an answer");

  await go(page, "/field");
  await expect(page.locator(".stop", { hasText: problems.va })).toContainText("The office asks", { timeout: 60_000 });
  await page.locator(".stop", { hasText: problems.va }).getByRole("link").click();
  await page.getByLabel("Your answer").fill("Yes, in the van.");
  await page.getByRole("button", { name: "Answer", exact: true }).click();
  await synced(page);
  await expect(office.getByRole("region", { name: "The office asks" })).toContainText("Yes, in the van.", { timeout: 60_000 });
  await office.keyboard.press("a");
  await expect(office).not.toHaveURL(/review\/va$/, { timeout: 60_000 });
  await go(office, "/office/review");
  await expect(office.locator("tr", { hasText: problems.vb })).toBeVisible();
  await expect(office.locator("tr", { hasText: problems.va })).toHaveCount(0);
});

test("the company says what is looked at before somebody leaves", async () => {
  await go(office, "/office/setup/ends");
  const row = office.locator("tr", { hasText: "A photo of how it is" });
  await row.getByLabel("required").check();
  await office.getByRole("button", { name: "Save" }).click();
  await expect(office.getByText("Devices have it with the next sync.")).toBeVisible();
  const { page } = tove;
  await go(page, "/field");
  await page.getByRole("button", { name: "Found work" }).click();
  await page.getByRole("searchbox", { name: /^Where/ }).fill("brakken bakeh");
  await page
    .getByRole("dialog")
    .getByRole("button", { name: /^Brakken Bakehouse/ })
    .first()
    .click();
  await page.getByLabel("What is to be done?").fill("Loose bolt");
  await page.getByRole("button", { name: "Do it now" }).click();
  const dock = page.locator(".dock");
  await dock.getByRole("button", { name: "Start work" }).click(); // she is there since the last visit
  await expect(page.locator("#finish")).toContainText("Photo of how it is now", { timeout: 60_000 });
  await dock.getByRole("button", { name: "Finish" }).click();
  await expect(page.getByRole("button", { name: /^Complete/ })).toHaveCount(0);
  await page
    .locator(".choices")
    .getByRole("button", { name: /Photo of how it is now/ })
    .click();
  await expect(page.locator("#photos")).toBeInViewport();
});
