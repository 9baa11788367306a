/** The office finds anything by the one bar, and a work order's page is where all about it is seen and done. */
import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { arrive, choose, command, dayFrom, go, momentAt, Program, signIn, test, typeDate, typeTime } from "./program.js";

const program = new Program();

test.beforeAll(async () => {
  await program.start(0);
});

test.afterAll(async () => {
  await program.remove();
});

async function desk(browser: import("@playwright/test").Browser, login = "mirin"): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(program.url);
  await signIn(page, login);
  await expect(page.getByText("To place")).toBeVisible();
  return page;
}

/** Opens an order at the water board's first site, and gives its id. */
async function open(page: Page, id: string, problem: string) {
  const [customer] = await page.evaluate(async () => (await fetch("/api/office/customers?q=water board")).json());
  const order = { customer: customer.id, site: customer.sites[0].id, problem, priority: "normal", minutes: 60, tasks: [{ id: "t1", name: "Isolate" }] };
  await command(page, "work.opened", { type: "workorder", id }, order);
}

const bar = (page: Page) => page.getByRole("combobox", { name: "Find anything, or say what to do" });

test("records and actions are found by the one bar, with the keyboard", async ({ browser }) => {
  const page = await desk(browser);
  await open(page, "w-find", "Diaphragm of the dosing pump is torn");
  await page.keyboard.press("/");
  await page.keyboard.type("torn diaph");
  await expect(page.getByRole("option", { name: /Diaphragm of the dosing pump/ })).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Diaphragm of the dosing pump is torn" })).toBeVisible();

  // With a slip, and from anywhere.
  await page.keyboard.press("Control+k");
  await page.keyboard.type("diapragm");
  const option = page.getByRole("option", { name: /Diaphragm of the dosing pump/ });
  await expect(option).toContainText("spelled nearly so");
  await page.keyboard.press("Escape");
  await bar(page).fill("new work");
  await page.getByRole("option", { name: "New work order", exact: true }).waitFor();
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/office\/intake/);

  // What was opened last comes first when nothing is typed.
  await bar(page).click();
  await expect(page.getByRole("listbox").getByRole("option").first()).toContainText("Diaphragm");
  await page.keyboard.press("Escape");
  await bar(page).fill("qqqq");
  await expect(page.getByText("Nothing is found by these words.")).toBeVisible();
});

test("an order is printed, with the codes that begin its steps", async ({ browser }) => {
  const page = await desk(browser);
  await open(page, "w-paper", "Overhaul on the bench");
  await go(page, "/office/orders/w-paper");
  const link = page.getByRole("link", { name: "Print", exact: true });
  await expect(link).toBeVisible();
  const pdf = Buffer.from(
    await page.evaluate(async (href) => [...new Uint8Array(await (await fetch(href)).arrayBuffer())], (await link.getAttribute("href"))!),
  );
  const file = join(program.data, "order.pdf");
  writeFileSync(file, pdf);
  expect(execFileSync("pdftotext", ["-layout", file, "-"], { encoding: "utf8" })).toContain("Overhaul on the bench");
  execFileSync("pdftoppm", ["-r", "200", "-png", file, join(program.data, "order")]);
  expect(execFileSync("zbarimg", ["-q", join(program.data, "order-1.png")], { encoding: "utf8" })).toContain("ITER-T/w-paper/t1");
});

test("a list of parts is taken from a file, and from an earlier order", async ({ browser }) => {
  const page = await desk(browser);
  await open(page, "w-list-one", "Change what is worn");
  await open(page, "w-list-two", "Change it once more");
  const [known] = await page.evaluate(async () =>
    ((await (await fetch("/api/office/stores/catalogue")).json()) as { id: string; part?: { number: string; name: string; retired?: boolean } }[]).filter(
      (c) => c.part && !c.part.retired,
    ),
  );
  await go(page, "/office/orders/w-list-one");
  const parts = page.getByRole("region", { name: "Parts" });
  await parts.getByRole("button", { name: "Take a list of parts" }).click();
  const drawer = page.getByRole("dialog");
  await drawer
    .getByLabel("From a file")
    .and(page.locator("input"))
    .setInputFiles({ name: "list.csv", mimeType: "text/csv", buffer: Buffer.from(`${known.part!.number};3\nZZ-0;1\n`) });
  await expect(drawer.getByText("is in no catalogue of ours")).toBeVisible();
  await drawer.getByRole("button", { name: "Plan 1 part" }).click();
  await expect(drawer).toHaveCount(0);
  await expect(parts).toContainText(known.part!.name);

  await go(page, "/office/orders/w-list-two");
  await parts.getByRole("button", { name: "Take a list of parts" }).click();
  await drawer.getByRole("combobox", { name: "From an earlier order here" }).press("Enter");
  await page.getByRole("option", { name: /Change what is worn/ }).click();
  await drawer.getByRole("textbox", { name: `How many: ${known.part!.name}` }).fill("2");
  await drawer.getByRole("button", { name: "Plan 1 part" }).click();
  await expect(parts).toContainText(/2 .*planned|planned.* 2/);
});

test("several orders are one undertaking, with what they come to", async ({ browser }) => {
  const page = await desk(browser);
  await open(page, "w-part-one", "Set the new booster");
  await open(page, "w-part-two", "Connect the new booster");
  await bar(page).fill("undertakings");
  await page.getByRole("option", { name: "See undertakings" }).waitFor();
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Begin an undertaking" }).click();
  await page.getByRole("textbox", { name: "Name" }).fill("New water for the upper line");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "New water for the upper line" })).toBeVisible();
  const undertaking = page.url();
  for (const id of ["w-part-one", "w-part-two"]) {
    await go(page, `/office/orders/${id}`);
    await page.getByRole("button", { name: "Change the order" }).click();
    await choose(page.getByRole("combobox", { name: "Undertaking" }), "New water for the upper line");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(page.getByRole("link", { name: "New water for the upper line" })).toBeVisible();
  }
  await page.goto(undertaking);
  await expect(page.getByText("2 of 2 work orders open")).toBeVisible();
  await expect(page.getByRole("region", { name: "Work orders" })).toContainText("Set the new booster");
  await page.getByRole("button", { name: "It is finished" }).click();
  await expect(page.getByRole("button", { name: "It goes on" })).toBeVisible();
});

test("an order is put on hold, taken back, changed by two and cancelled with its visit", async ({ browser }) => {
  const page = await desk(browser);
  await open(page, "w-hub", "Booster trips at night");
  await go(page, "/office/orders/w-hub");
  await expect(page.getByRole("heading", { name: "Booster trips at night" })).toBeVisible();

  await page.getByRole("button", { name: "Put on hold" }).click();
  const hold = page.getByRole("dialog", { name: "Put on hold" });
  await hold.getByLabel("Reason").fill("waits for the permit");
  await page.reload();
  await page.getByRole("button", { name: "Put on hold" }).click();
  await expect(hold.getByLabel("Reason")).toHaveValue("waits for the permit");
  const until = await page.evaluate(() => new Date(Date.now() + 20 * 86_400_000).toISOString().slice(0, 10));
  await typeDate(hold.getByRole("group", { name: "It comes back on" }), until);
  await hold.getByRole("button", { name: "Put on hold" }).click();
  await expect(page.locator("main")).toContainText("waits for the permit");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("button", { name: "Put on hold" })).toBeVisible();
  await expect(page.getByRole("region", { name: "History of the order" })).toContainText("released the order");

  // On paper to somebody who helps.
  await page.getByRole("button", { name: "Send the order" }).click();
  const send = page.getByRole("dialog", { name: /^Send work order/ });
  await send.getByLabel("E-mail address or telephone number").fill("crane@example.net");
  await send.getByRole("button", { name: "Send it" }).click();
  await expect(page.locator("main")).toContainText("The order goes to crane@example.net");
  await expect(page.getByRole("region", { name: "History of the order" })).toContainText("sent the order to crane@example.net");

  // Two at the same order: each sees the other's change, and both stand.
  const other = await desk(browser, "petrok");
  await go(other, "/office/orders/w-hub");
  await page.getByLabel("Another task").fill("Test the float switch");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await expect(page.getByRole("region", { name: "Tasks and machines" })).toContainText("Test the float switch");
  await expect(other.getByRole("region", { name: "Tasks and machines" })).toContainText("Test the float switch");
  await other.getByRole("button", { name: "Change the order" }).click();
  const form = other.getByRole("dialog", { name: "Change the order" });
  await form.getByLabel("For whoever goes").fill("Gate code 4410");
  await form.getByLabel("The customer's own order number").fill("PO-77");
  await form.getByRole("button", { name: "Save" }).click();
  await expect(page.locator("main")).toContainText("Gate code 4410");
  await expect(page.locator("main")).toContainText("their order PO-77");
  await bar(page).fill("po-77");
  await expect(page.getByRole("option", { name: /Booster trips/ })).toBeVisible();
  await page.keyboard.press("Escape");

  // Cancelled with the visit that was planned; reopened.
  const visit = { type: "visit", id: "v-hub" };
  await command(page, "visit.planned", visit, { order: "w-hub", technician: "ansa", start: new Date(Date.now() + 86_400_000).toISOString(), minutes: 60 });
  await expect(page.getByRole("list", { name: "Its visits" })).toContainText("visit 1");
  await page.getByRole("button", { name: "Cancel the order" }).click();
  const cancel = page.getByRole("dialog", { name: "Cancel the order" });
  await expect(cancel).toContainText("A planned visit is withdrawn with it.");
  await cancel.getByLabel("Reason").fill("sold");
  await cancel.getByRole("button", { name: "Cancel the order" }).click();
  await expect(page.getByRole("list", { name: "Its visits" })).toContainText("withdrawn");
  await expect(page.getByRole("button", { name: "Reopen" })).toBeVisible();
  await page.getByRole("button", { name: "Reopen" }).click();
  await expect(page.getByRole("button", { name: "Plan a visit" })).toBeVisible();

  // A copy for a follow-up is an order of its own that names this one.
  await page.getByRole("button", { name: "Copy for a follow-up" }).click();
  await expect(page.getByText("follows up")).toBeVisible();
  await expect(page.getByRole("region", { name: "Tasks and machines" })).toContainText("Isolate");
});

test("work that comes often is kept ready-made, and taken for the next call", async ({ browser }) => {
  const page = await desk(browser);
  const call = async (problem: string) => {
    await go(page, "/office/intake");
    await page.getByLabel(/Customer: part/).fill("distill");
    await page.getByRole("button", { name: /Innisgarve Distillers/ }).click();
    if (problem) await page.getByLabel("Problem or plan").fill(problem);
  };
  await call("Yearly check of the dosing unit");
  await page.getByLabel(/^Tasks/).fill("Calibrate the dose\nChange the hose");
  await page.getByLabel("Expected minutes on site").fill("75");
  await page.getByRole("button", { name: "Keep as ready-made work" }).click();
  const drawer = page.getByRole("dialog", { name: "Keep as ready-made work" });
  await drawer.getByLabel("What it is called").fill("Dosing, yearly");
  await drawer.getByRole("button", { name: "Save" }).click();
  await expect(drawer).toHaveCount(0);
  await page.getByRole("button", { name: "Throw away" }).click();

  await call("");
  await page.getByRole("combobox", { name: "Take ready-made work" }).click();
  await page.getByRole("option", { name: "Dosing, yearly" }).click();
  await expect(page.getByLabel("Problem or plan")).toHaveValue("Yearly check of the dosing unit");
  await expect(page.getByLabel(/^Tasks/)).toHaveValue("Calibrate the dose\nChange the hose");
  await expect(page.getByLabel("Expected minutes on site")).toHaveValue("75");
});

test("what a technician tells by telephone is written down: an arrival first, then the rest", async ({ browser }) => {
  const page = await desk(browser);
  await open(page, "w-told", "Float switch hangs");
  const start = momentAt(dayFrom(-1), "08:00").toISOString();
  await command(page, "visit.planned", { type: "visit", id: "v-told" }, { order: "w-told", technician: "garo", start, minutes: 60 });
  await go(page, "/office/visits/v-told");
  const drawer = page.getByRole("dialog", { name: "Told by telephone" });
  const tell = async (times: Record<string, string>) => {
    await page.getByRole("button", { name: /Told by telephone|Go on with what is told/ }).click();
    for (const [label, hm] of Object.entries(times)) await typeTime(drawer.getByRole("group", { name: label, exact: true }), hm);
  };
  await tell({ Arrived: "08:20" });
  await drawer.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("region", { name: "Trail" })).toContainText("Garo Yell arrived");
  await expect(page.locator(".visit-page-stage")).toContainText("told by telephone to Mirin Dell");

  await tell({ "Break from": "09:00", "Break to": "09:15" });
  await drawer.getByLabel("Note").fill("Cable chafed through at the gland");
  await page.reload(); // what is half told is there again
  await tell({ Finished: "10:00" });
  await expect(drawer.getByLabel("Note")).toHaveValue("Cable chafed through at the gland");
  await drawer.getByLabel("Isolate").check();
  await drawer.getByRole("combobox", { name: "How it ended" }).click();
  await page.getByRole("option", { name: "Complete" }).click();
  await drawer.getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator(".visit-page-stage")).toContainText("finished · Complete");
  const trail = page.getByRole("region", { name: "Trail" });
  await expect(trail).toContainText("told by telephone, written down by Mirin Dell");
  await expect(trail).toContainText("Cable chafed through at the gland");
  await go(page, "/office/orders/w-told");
  await expect(page.getByRole("list", { name: "Its visits" })).toContainText("told by telephone to Mirin Dell");
  await expect(page.getByRole("list", { name: "Its visits" })).toContainText("1 h 25");
});

test("how a step came out is said on the phone and read on the order", async ({ browser }) => {
  const page = await desk(browser);
  await open(page, "w-step", "Gland drips");
  await command(page, "visit.planned", { type: "visit", id: "v-step" }, { order: "w-step", technician: "dilys", start: new Date().toISOString(), minutes: 60 });
  await command(page, "visit.sent", { type: "visit", id: "v-step" }, {});
  await go(page, "/office/orders/w-step");
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(program.url);
  await signIn(phone, "dilys");
  await expect(phone.getByText("All at office")).toBeVisible();
  await go(phone, "/field/visit/v-step");
  await arrive(phone);
  await phone.getByRole("button", { name: "Done: Isolate" }).click();
  await phone.getByRole("button", { name: "Isolate: Replaced" }).click();
  await expect(phone.getByRole("button", { name: "Isolate: Replaced" })).toHaveAttribute("aria-pressed", "true");
  await phone.getByRole("button", { name: "Remark on Isolate" }).click();
  await phone.getByLabel("Remark", { exact: true }).fill("Gland repacked");
  await phone.getByRole("button", { name: "Keep the remark" }).click();
  await expect(page.getByRole("region", { name: "Tasks and machines" })).toContainText("Replaced · Gland repacked");
  await phone.context().close();
});

test("a call for an unknown customer is an order with two tasks, by keyboard alone", async ({ browser }) => {
  const page = await desk(browser);
  let presses = 0;
  const press = async (...keys: string[]) => {
    for (const key of keys) {
      await page.keyboard.press(key);
      presses++;
    }
  };
  const focused = (name: string | RegExp, role: "textbox" | "combobox" = "textbox") => expect(page.getByRole(role, { name })).toBeFocused();
  const type = (words: string) => page.keyboard.type(words);

  await press("n");
  await focused(/Customer: part/);
  await type("Brook Farm");
  await expect(page.getByText("No customer matches")).toBeVisible();
  await press("Enter");
  await focused("Phone"); // the name is there
  await type("01 555 7788");
  await press("Tab");
  await type("Ina Brook");
  await press("Tab");
  await type("2 Mill Lane");
  await press("Tab", "Tab", "Tab", "Tab"); // the site is the same
  await focused("Machine", "combobox");
  await press("Enter", "ArrowDown", "Enter");
  await focused("What machine it is");
  await type("Well pump");
  await press("Tab", "Tab");
  await type("WP-9");
  await press("Tab", "Tab"); // the map is for who wants it
  await focused("Problem or plan");
  await type("No water since the morning");

  // What is typed is there after the page was loaded anew.
  await page.reload();
  await expect(page.getByRole("textbox", { name: "Problem or plan" })).toHaveValue("No water since the morning");
  await page.getByRole("textbox", { name: "Problem or plan" }).focus();

  await press("Tab");
  await type("Look at the well");
  await press("Enter");
  await type("Prime the pump");
  await press("Control+Enter");
  await expect(page.getByRole("dialog", { name: "Plan a visit" })).toBeVisible();
  await press("Escape");
  await expect(page.getByRole("dialog")).toHaveCount(0);
  expect(presses).toBeLessThan(60);

  // Customer, site, machine and order are there, and found by the telephone number.
  await press("Control+k");
  await type("+353 1 5557788");
  await expect(page.getByRole("listbox").getByRole("option").first()).toContainText("Brook Farm");
  await press("Escape");
  await bar(page).fill("no water morning");
  await page.getByRole("option", { name: /No water since the morning/ }).click();
  await expect(page.getByRole("heading", { name: "No water since the morning" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Tasks and machines" })).toContainText("Prime the pump");
  await expect(page.getByRole("link", { name: "Well pump WP-9" })).toBeVisible();

  // Whoever calls again is told of it before it is opened twice.
  await press("n");
  await focused(/Customer: part/);
  await type("brook");
  await page
    .getByRole("button", { name: /Brook Farm/ })
    .first()
    .waitFor();
  await press("Enter");
  await expect(page.getByRole("region", { name: /The same trouble/ })).toContainText("No water since the morning");

  // Whoever it turns out to be, and wherever another call comes from: what is half typed stays.
  const problem = page.getByRole("textbox", { name: "Problem or plan" });
  await problem.fill("It is the neighbour's");
  await page.getByRole("button", { name: "Change", exact: true }).click();
  await type("distill");
  await page.getByRole("button", { name: /Innisgarve Distillers/ }).click();
  await expect(problem).toHaveValue("It is the neighbour's");
  await bar(page).fill("brook farm");
  await page
    .getByRole("option", { name: /New work order for Brook Farm/ })
    .first()
    .click();
  const half = page.getByRole("dialog", { name: "Another call is half typed" });
  await half.getByRole("button", { name: "Go on with it" }).click();
  await expect(problem).toHaveValue("It is the neighbour's");
  await expect(page.locator("main")).toContainText("Innisgarve Distillers");
  await bar(page).fill("brook farm");
  await page
    .getByRole("option", { name: /New work order for Brook Farm/ })
    .first()
    .click();
  await half.getByRole("button", { name: "Throw it away and begin anew" }).click();
  await expect(page.locator("main")).toContainText("Brook Farm");
  await expect(problem).toHaveValue("");
});
