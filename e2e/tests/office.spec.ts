/** The office's slips and corners: nothing vanishes, what is odd is asked about, what one may not do is not offered, what was pressed is taken back. */
import { expect, type Page } from "@playwright/test";
import { wrongs } from "./accessible.js";
import { choose, command, dayFrom, go, Program, test, typeDate, typeTime } from "./program.js";

const program = new Program();

test.beforeAll(() => program.start(3));
test.afterAll(() => program.remove());

/** Opens work at a site of the demo's. */
async function open(page: Page, id: string, problem: string) {
  const [customer] = await page.evaluate(async () => (await fetch("/api/office/customers?q=distill")).json());
  const order = { customer: customer.id, site: customer.sites[0].id, problem, priority: "normal", minutes: 60 };
  await command(page, "work.opened", { type: "workorder", id: `w-${id}` }, order);
}

test("the company's rule says by when work is promised, and Intake proposes it", async ({ page }) => {
  await program.office(page, "/office/setup/promises", "petrok");
  await page.getByRole("button", { name: "Add a rule" }).click();
  await page.getByRole("button", { name: "Add a rule" }).click();
  await choose(page.getByRole("combobox", { name: "Priority" }).last(), "Normal");
  await choose(page.getByRole("combobox", { name: "Counted in" }).last(), "working days");
  await page.getByLabel("Within").last().fill("0");
  await page.getByLabel("Within").first().fill("5000");
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();
  await page.getByLabel("Within").first().fill("3");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Saved.")).toBeVisible();

  await go(page, "/office/intake");
  await page.getByLabel(/Customer: part/).fill("Promised Bakery");
  await page.getByRole("button", { name: /A new customer/ }).click();
  await page.getByLabel("Problem or plan").fill("Ovens without water");
  await page.getByRole("button", { name: "Soon", exact: true }).click();
  await expect(page.getByRole("button", { name: "Promise it" })).toHaveCount(0);
  await page.getByRole("button", { name: "Emergency", exact: true }).click();
  await page.getByRole("button", { name: "Promise it" }).click();
  await expect(page.getByRole("button", { name: "Promise it" }), "it is promised").toHaveCount(0);
  await page.getByRole("button", { name: "Open work order" }).click();
  await page.getByRole("dialog", { name: "Plan a visit" }).waitFor();
  const promised = await page.evaluate(async () => {
    const { unplaced } = await (await fetch("/api/office/board")).json();
    return unplaced.find((o: { problem: string }) => o.problem === "Ovens without water").promise as string;
  });
  const minutes = (Date.parse(promised) - Date.now()) / 60_000;
  expect(minutes, "three hours, to the next quarter").toBeGreaterThan(175);
  expect(minutes).toBeLessThan(196);
});

test("a time that has passed is asked about, and a visit left on a past day is looked at each morning", async ({ page }) => {
  await program.office(page, "/office");
  await open(page, "left", "Left on a past day");
  await page
    .locator(".to-place")
    .getByRole("button", { name: /Left on a past day/ })
    .click();
  await page.getByRole("button", { name: "Plan by form" }).click();
  const form = page.getByRole("dialog", { name: "Plan a visit" });
  await choose(form.getByRole("combobox", { name: "Technician" }), "Ansa Vane");
  await typeDate(form.getByRole("group", { name: "Date" }), dayFrom(-2));
  await typeTime(form.getByRole("group", { name: "Start" }), "23:30");
  await form.getByRole("button", { name: "Plan only" }).click();
  await expect(form.getByRole("alert")).toContainText("has passed. Press again if it is meant.");
  await form.getByRole("button", { name: "Plan only" }).click();
  await expect(form).toHaveCount(0);

  await page.locator(".left-behind summary").click();
  await expect(page.locator(".left-behind")).toContainText("Left on a past day");
  // At half past eleven at night, for an hour: it is on both of its days.
  for (const at of [dayFrom(-2), dayFrom(-1)]) {
    await go(page, `/office?date=${at}`);
    await expect(page.getByTitle(/Left on a past day/), at).toHaveCount(1);
  }
});

test("what changes while a list is asked for the first time is on it", async ({ page }) => {
  await program.office(page, "/office/setup");
  const other = await page.context().newPage();
  await other.goto(`${program.url}/office`);
  let first = true;
  await page.route("**/api/office/board*", async (route) => {
    if (!first) return route.continue();
    first = false;
    const answer = await route.fetch(); // of before the change
    await open(other, "meanwhile", "Came in meanwhile");
    await expect(other.locator(".to-place")).toContainText("Came in meanwhile"); // the others were told
    await route.fulfill({ response: answer });
  });
  await page.getByRole("link", { name: /^Board/ }).click();
  await expect(page.locator(".to-place")).toContainText("Came in meanwhile");
});

test("only what was read from what changed is asked for again", async ({ page }) => {
  await program.office(page, "/office/stores/catalogue");
  await page.getByLabel("Part name or number").fill("OR-72");
  const row = page.getByRole("row", { name: /OR-72/ });
  await expect(row).toBeVisible();
  await expect(page.getByText("live", { exact: true })).toBeVisible(); // what was asked for again when the line opened has been
  const asked: string[] = [];
  page.on("request", (r) => asked.push(new URL(r.url()).pathname));
  const catalogue = () => asked.filter((path) => path === "/api/office/stores/catalogue").length;
  await page.evaluate(
    () =>
      new Promise<void>((opened) => {
        const line = new EventSource("/api/events");
        line.addEventListener("hello", () => opened());
        line.addEventListener("changed", (e) => document.body.append(`${JSON.parse(e.data).changed} `));
      }),
  );
  // Told twice, so that what the first asked for has been asked for.
  for (const id of ["first", "second"]) {
    await open(page, id, "Of no concern to the catalogue");
    await expect(page.locator("body")).toContainText(`workorder/w-${id}`);
  }
  expect(catalogue()).toBe(0);

  const name = await row.getByRole("button").textContent();
  await command(page, "record.amended", { type: "part", id: "OR-72" }, { name: `${name}, blue` }, { name });
  await expect(row).toContainText(", blue");
  expect(catalogue()).toBeGreaterThan(0);
});

test("an address that is none leaves words on the screen, not a blank page", async ({ page }) => {
  await program.office(page, "/office?date=abc");
  await expect(page.getByText("To place")).toBeVisible();
  await go(page, "/office/hours?from=x&to=2026-02-31");
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await page.goto(`${program.url}/office/no/such/screen`);
  await expect(page.getByText("There is no screen at this address")).toBeVisible();
});

test("a screen tells its keys", async ({ page }) => {
  await program.office(page, "/office/lists/sites");
  await expect(page.getByRole("grid", { name: "Sites" })).toBeVisible();
  await page.keyboard.press("?");
  const keys = page.getByRole("dialog", { name: "Keys" });
  await expect(keys).toContainText("From cell to cell");
  await expect(keys).toContainText("Take the last thing back that you did");
  expect(await wrongs(page)).toEqual([]);
  await page.keyboard.press("Escape");
  await expect(keys).toHaveCount(0);
  // What they say is so: a cell is gone to and opened without a mouse.
  await page.getByRole("gridcell").first().focus();
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/records\/site\//);
});

test("keys go where they are typed", async ({ page }) => {
  await program.office(page, "/office/review", "noll");
  await page.locator(".review a[href*='/office/review/v']").first().click();
  await page.getByRole("button", { name: "Ask the technician" }).click();
  const question = page.getByLabel("Your question");
  await question.fill("Which seal");
  await page.keyboard.press("k");
  await expect(question).toHaveValue("Which sealk");
  await page.keyboard.press("Escape");
  await expect(question).toHaveCount(0);
  const at = page.url();
  await page.keyboard.press("k"); // the one before: never another part of the office
  expect(new URL(page.url()).pathname).toMatch(/^\/office\/review/);
  expect(at).toContain("/office/review/");
});

test("what one may not do is not offered", async ({ page }) => {
  await program.office(page, "/office/stores/places", "noll");
  await page.locator(".place table button").first().click();
  const drawer = page.getByRole("dialog");
  await expect(drawer).toBeVisible();
  await expect(drawer.getByLabel("Lost or thrown away")).toHaveCount(0);
  await expect(drawer.getByRole("button", { name: "Save levels" })).toHaveCount(0);
  await go(page, "/office/records/site/S001");
  await expect(page.getByLabel("Access", { exact: true })).toHaveJSProperty("readOnly", true);
  await expect(page.getByRole("button", { name: "Save", exact: true })).toHaveCount(0);
  await go(page, "/office/intake");
  await expect(page.getByText("not for your role")).toBeVisible();
  // Asked for all the same, it is refused with who may.
  const refused = await page.evaluate(async () => {
    const entry = {
      id: "01ZZZZZZZZ0000000000000009",
      kind: "stock.scrapped",
      subject: { type: "stock", id: "store" },
      body: { part: "P", quantity: "1", reason: "x" },
    };
    const body = JSON.stringify({ entries: [entry], seen: Number.MAX_SAFE_INTEGER });
    return (await fetch("/api/office/entries", { method: "POST", headers: { "Content-Type": "application/json" }, body })).json();
  });
  expect([refused.code, refused.args.roles]).toEqual(["role.missing", "stores"]);
});

test("more thrown away than there is is asked about", async ({ page }) => {
  await program.office(page, "/office/stores/places", "oriel");
  await page.locator(".place table button").first().click();
  const drawer = page.getByRole("dialog");
  await drawer.getByLabel("Lost or thrown away").fill("5000");
  await drawer.getByLabel("Why").last().fill("Broken");
  await drawer.getByRole("button", { name: "Take it off" }).click();
  await expect(drawer.getByRole("alert")).toContainText("5000 are to go");
  await expect(drawer.getByLabel("Lost or thrown away")).toHaveValue("5000");
});

test("a visit that is withdrawn by mistake is put back by a key", async ({ page }) => {
  await program.office(page, "/office");
  await open(page, "undo", "Withdrawn by mistake");
  const start = new Date(Date.now() + 3 * 86_400_000).toISOString();
  await command(page, "visit.planned", { type: "visit", id: "v-undo" }, { order: "w-undo", technician: "ansa", start, minutes: 60 });
  await go(page, "/office/visits/v-undo");
  await page.getByRole("button", { name: "Withdraw" }).click();
  await expect(page.locator(".visit-page-stage")).toContainText("withdrawn");
  await expect(page.locator(".undo-strip")).toContainText("Withdrawn");
  await page.keyboard.press("Control+z");
  await expect(page.locator(".visit-page-stage")).toContainText("planned");
  await expect(page.locator(".undo-strip")).toContainText("Taken back: Withdrawn");
});

test("a file that is no picture is no logo", async ({ page }) => {
  await program.office(page, "/office/setup/ends", "petrok");
  const text = { name: "logo.png", mimeType: "image/png", buffer: Buffer.from("this is only text") };
  const before = await page.locator("img.logo").getAttribute("src");
  await page.locator("input[type=file][accept*='image/png']").setInputFiles(text);
  await expect(page.getByRole("alert").filter({ hasText: "PNG" })).toBeVisible();
  await expect(page.locator("img.logo")).toHaveAttribute("src", before!);
});

test("a number from the telephone's display finds its customer", async ({ page }) => {
  await program.office(page, "/office");
  const number = await page.evaluate(async () => {
    const all = await (await fetch("/api/office/customers?q=distill")).json();
    return (await (await fetch(`/api/office/records/customer/${all[0].id}`)).json()).body.contact?.phone as string;
  });
  expect(number).toMatch(/^\+353/);
  const plain = number.replaceAll(" ", "");
  for (const shown of [number, plain, plain.replace("+", "00"), plain.replace("+353", "0")]) {
    await go(page, "/office/intake");
    await page.getByLabel(/Customer: part/).fill(shown);
    await expect(page.getByRole("button", { name: /Innisgarve Distillers/ }), shown).toBeVisible();
  }
});

test("while the server is down the last state stays, marked as old", async ({ page }) => {
  await program.office(page, "/office");
  await expect(page.getByText("To place")).toBeVisible();
  await program.stop();
  await expect(page.locator(".stale")).toContainText("This is how things stood");
  await expect(page.locator(".lane-list button").first()).toBeVisible();
  await program.start(3);
  await expect(page.locator(".stale")).toHaveCount(0, { timeout: 60_000 });
});
