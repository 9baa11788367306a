/** A check sheet designed at the office, filled in offline on the phone, and what the office makes of it. */
import { expect, type Page } from "@playwright/test";
import { arrive, choose, command, dayFrom, go, keptForOffline, Phone, Program, signIn, test } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

test.beforeAll(() => program.start());
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

const editor = (page: Page) => page.locator(".designer-editor");

/** Adds a question to the section that is there as the n-th, and words it. */
async function add(page: Page, section: number, kind: string, text: string, name?: string) {
  await page.locator(".outline-add").nth(section).selectOption({ label: kind });
  await editor(page).getByLabel("What to ask", { exact: true }).fill(text);
  if (name) {
    await editor(page).getByLabel("Name in formulas", { exact: true }).fill(name);
    await editor(page).getByLabel("Name in formulas", { exact: true }).press("Enter");
    await expect(editor(page).getByLabel("Name in formulas", { exact: true })).toHaveValue(name);
  }
}

async function design(page: Page) {
  await page.getByRole("link", { name: /Setup/ }).click();
  await page.getByRole("link", { name: "Check sheets" }).click();
  await page.getByLabel("Title", { exact: true }).fill("Plant room check");
  await page.getByRole("button", { name: "Create" }).click();
  await page.locator(".outline-head").click();
  await editor(page).getByLabel("Title", { exact: true }).fill("Arrival");

  await add(page, 0, "One of several", "Where does it leak?");
  await editor(page).getByLabel("Answer 1", { exact: true }).fill("Seal");
  await editor(page).getByLabel("Answer 2", { exact: true }).fill("Pipe");
  await add(page, 0, "Yes or no", "Any leak?", "leak");
  await editor(page).getByLabel("Must be answered", { exact: true }).check();
  await editor(page).getByRole("button", { name: "Add what follows" }).click();
  await editor(page).getByLabel("Answer to compare with", { exact: true }).selectOption("Yes");
  await editor(page).getByLabel("ask for a photo", { exact: true }).check();
  await editor(page).getByLabel("Tell the office of a hazard", { exact: true }).fill("Leak in the plant room");
  await editor(page).getByLabel("Propose work", { exact: true }).fill("Change the seal");
  await editor(page).getByLabel("Part number", { exact: true }).fill("SK-38");

  // A condition, built from menus.
  await page.locator(".outline-name", { hasText: "Where does it leak?" }).click();
  await editor(page).getByRole("button", { name: "Add a condition" }).first().click();
  await editor(page).getByLabel("Question", { exact: true }).selectOption("Any leak?");
  await editor(page).getByLabel("How it is compared", { exact: true }).selectOption("is");
  await editor(page).getByLabel("Answer to compare with", { exact: true }).selectOption("Yes");

  // The order is mended with the keyboard: the leak comes before where it is.
  await page.getByRole("button", { name: "Move Any leak?" }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByText(/^Any leak\?: 3 of/)).toBeAttached();
  await page.keyboard.press("ArrowUp");
  await expect(page.getByText(/^Any leak\?: 2 of/)).toBeAttached();
  await page.keyboard.press("Space");
  await expect(page.locator(".outline-name").first()).toContainText("Any leak?");

  await add(page, 0, "Number", "Cuts in at", "cut_in");
  await editor(page).getByLabel("Unit", { exact: true }).fill("bar");
  await add(page, 0, "Number", "Cuts out at", "cut_out");
  await editor(page).getByLabel("Unit", { exact: true }).fill("kPa");
  await add(page, 0, "Worked out", "Switching band");
  await editor(page).getByLabel("Unit", { exact: true }).fill("bar");
  await editor(page).getByLabel("Decimals", { exact: true }).fill("2");
  const formula = editor(page).getByLabel("Formula", { exact: true });
  await formula.fill("cut_out - nothing");
  await expect(editor(page).locator("mark")).toHaveText("nothing");
  await expect(editor(page).getByText("There is no answer called nothing.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Publish …" })).toBeDisabled();
  await formula.fill("cut_out - cut_in");
  await add(page, 0, "Reading", "Discharge pressure");
  await choose(editor(page).getByLabel("Reading point", { exact: true }), "Discharge pressure (bar)");
  await expect(page.getByRole("button", { name: "Publish …" })).toBeEnabled(); // nothing is wrong any more, and nothing moves for it

  await page.getByRole("button", { name: "Add a section" }).click();
  await editor(page).getByLabel("Title", { exact: true }).fill("Rooms");
  await editor(page).getByLabel("Filled in again for each", { exact: true }).check();
  await add(page, 1, "Measured area", "Floor", "floor");
  await add(page, 1, "Part or kit", "Coating", "coating");
  await choose(editor(page).getByLabel("Quantity", { exact: true }), "Floor");
  await page.getByRole("button", { name: "Add a section" }).click();
  await editor(page).getByLabel("Title", { exact: true }).fill("Sum");
  await add(page, 2, "Worked out", "With a tenth over");
  await editor(page).getByLabel("Formula", { exact: true }).fill("coating * 1.1");
  await expect(editor(page).getByText(/There are several of these/)).toBeVisible();
  await editor(page).getByLabel("Formula", { exact: true }).fill("sum(coating) * 1.1");
}

/** The preview is the phone's form on the real core. */
async function tryOut(page: Page) {
  const preview = page.getByRole("complementary", { name: "On the phone" });
  await expect(preview.getByText("Where does it leak?")).toHaveCount(0);
  await preview
    .getByRole("group", { name: /Any leak/ })
    .getByRole("button", { name: "Yes" })
    .click();
  await expect(preview.getByText("Where does it leak?")).toBeVisible();
  await preview.getByRole("textbox", { name: /Cuts in at/ }).fill("2.8");
  await preview.getByRole("textbox", { name: /Cuts in at/ }).blur();
  await preview.getByRole("textbox", { name: /Cuts out at/ }).fill("420");
  await preview.getByRole("textbox", { name: /Cuts out at/ }).blur();
  await expect(preview.getByText("1.4 bar")).toBeVisible();
}

async function publish(page: Page, version: number) {
  await expect(page.getByRole("button", { name: "Publish …" })).toBeEnabled();
  await expect(page.getByText("Draft kept")).toBeVisible();
  await page.getByRole("button", { name: "Publish …" }).click();
  if (version > 1) await expect(page.getByRole("region", { name: "What is new in it" }).locator("li")).toHaveText([/Changed: Any leak at all\?.*words/]);
  await page.getByRole("button", { name: `Publish version ${version}` }).click();
  await expect(page.locator("h1")).toContainText(`version ${version + 1}`);
}

const problem = "Look over the plant room";

/** Work on a booster set, with the first version of the sheet, planned for Ansa. */
async function send(office: Page): Promise<string> {
  // One that was measured before.
  const place = await office.evaluate(async () => {
    const ask = async (path: string) => (await fetch(`/api/office/${path}`)).json();
    for (const q of ["water board", "dairies", "fish", "growers", "marina", "homes", "distill", "parks", "laundry", "schools"]) {
      for (const customer of await ask(`customers?q=${q}`)) {
        for (const site of customer.sites) {
          for (const a of site.assets) {
            if (a.name !== "Booster set") continue;
            const hours = (await ask(`measured/${a.id}`)).find((s: { id: string }) => s.id === "hours");
            if (hours?.values.length > 1) return { customer: customer.id, site: site.id, asset: a.id };
          }
        }
      }
    }
    throw new Error("nothing was measured");
  });
  const body = { ...place, problem, priority: "soon", minutes: 60, kind: "survey", sheets: ["plant_room_check@1"] };
  await command(office, "work.opened", { type: "workorder", id: "wcheck" }, body);
  const visit = { type: "visit", id: "vcheck" };
  await command(office, "visit.planned", visit, { order: "wcheck", technician: "ansa", start: new Date().toISOString(), minutes: 60 });
  await command(office, "visit.sent", visit, {});
  return place.asset;
}

/** Marks a photo with an arrow. */
async function markUp(page: Page) {
  await page.locator(".photo").first().click();
  await page.getByRole("button", { name: "Draw or describe" }).click();
  const box = (await page.locator(".marks-draw").boundingBox())!;
  await page.mouse.move(box.x + 40, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + 90, box.y + 80);
  await page.mouse.move(box.x + 160, box.y + 120);
  await page.mouse.up();
  await page.getByRole("button", { name: "Before" }).click();
  await page.getByLabel("Caption", { exact: true }).fill("Drip at the gland");
  await page.getByRole("dialog", { name: "Draw on the photo" }).getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Before · Drip at the gland")).toBeVisible();
  await page.getByRole("button", { name: "Close", exact: true }).click();
}

/** A photo of 8,000 by 5,000 pixels. */
async function huge(page: Page) {
  const data = await page.evaluate(async () => {
    const canvas = new OffscreenCanvas(8000, 5000);
    const ink = canvas.getContext("2d")!;
    ink.fillStyle = "#7a8b6f";
    ink.fillRect(0, 0, 8000, 5000);
    ink.fillStyle = "#223";
    ink.fillRect(2000, 1500, 900, 700);
    const blob = await canvas.convertToBlob({ type: "image/jpeg", quality: 0.7 });
    return Array.from(new Uint8Array(await blob.arrayBuffer()));
  });
  await page.close();
  return { name: "huge.jpg", mimeType: "image/jpeg", buffer: Buffer.from(data) };
}

async function fillIn(page: Page, picture: { name: string; mimeType: string; buffer: Buffer }) {
  const group = (name: RegExp) => page.getByRole("group", { name });
  await expect(page.getByText("Where does it leak?")).toHaveCount(0);
  await group(/Any leak/)
    .getByRole("button", { name: "Yes" })
    .click(); // one tap
  await expect(group(/Any leak/).getByRole("button", { name: "Yes" })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByText("The office is told of this hazard")).toBeVisible();
  await group(/Where does it leak/)
    .getByRole("button", { name: "Seal" })
    .click();
  await expect(page.locator(".sheet-next")).toContainText("Any leak?: a photo is asked for");
  // One that this browser can't read is refused, with what to do; one of forty megapixels is made smaller.
  const photo = page.locator(".follow input[multiple]");
  await photo.setInputFiles({ name: "IMG_0007.HEIC", mimeType: "image/heic", buffer: Buffer.from("    ftypheic") });
  await expect(page.getByText(/this browser can't read HEIC photos/)).toBeVisible();
  await expect(page.locator(".follow .photo")).toHaveCount(0);
  await photo.setInputFiles(picture);
  await markUp(page);
  await expect(page.locator(".sheet-next")).toContainText("Nothing is missing");

  await page.getByRole("textbox", { name: /Cuts in at/ }).fill("2,8");
  await page.getByRole("textbox", { name: /Cuts out at/ }).fill("420");
  await page.getByRole("textbox", { name: /Cuts out at/ }).blur();
  await expect(page.getByText("1.4 bar")).toBeVisible();

  // A reading: one tap into the field, digits, one tap to save. 100 psi is 6.9 bar: past the alarm.
  const entry = page.locator(".point-entry", { has: page.getByLabel("Discharge pressure in bar", { exact: true }) });
  await choose(entry.getByLabel("Unit", { exact: true }), "psi");
  await page.getByLabel("Discharge pressure in psi", { exact: true }).fill("100");
  await expect(page.getByText("= 6.8948 bar")).toBeVisible();
  await expect(page.getByText("too high").first()).toBeVisible();
  await page.locator(".point-entry").getByRole("button", { name: "Save" }).first().click();
  await page.locator(".point", { hasText: "Discharge pressure" }).getByRole("button", { name: "Follow-up needed" }).click(); // one tap
  await expect(page.locator(".further").getByText("Follow-up", { exact: true })).toBeVisible();

  await page.getByRole("button", { name: "Add a room" }).click();
  await page.getByLabel("Length", { exact: true }).fill("4");
  await page.getByLabel("Width", { exact: true }).fill("2.5");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await page.getByRole("button", { name: "Pick a part or kit" }).click();
  await page.getByLabel("Part name or number", { exact: true }).fill("coating");
  await page.getByRole("button", { name: /Floor coating/ }).click();
  await expect(page.locator(".pick")).toContainText("€199.00");
  await page.getByLabel("Next room", { exact: true }).fill("Loft");
  await page.getByRole("button", { name: "Add with the answers of Room 1" }).click();
  await expect(page.getByRole("button", { name: "Loft", exact: true })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByText("€437.80")).toBeVisible(); // 2 × 199 and a tenth
}

test("a sheet is designed, published, filled in offline, and read at the office", async ({ browser }) => {
  const picture = await huge(await browser.newPage());
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const office = await context.newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await design(office);
  await tryOut(office);
  await publish(office, 1);
  const asset = await send(office);

  // A second version, after the work was opened: the visit keeps the first.
  await office.locator(".outline-name", { hasText: "Any leak?" }).click();
  await editor(office).getByLabel("What to ask", { exact: true }).fill("Any leak at all?");
  await publish(office, 2);

  await phone.open();
  const page = phone.page;
  await signIn(page, "ansa");
  await expect(page.getByText("All at office")).toBeVisible();
  await keptForOffline(page);
  await page.locator(".stop", { hasText: problem }).getByRole("link").click();
  await phone.context.setOffline(true);
  await arrive(page);

  // What was measured before is there with no signal; a counter that fell is asked about once.
  const hours = page.locator(".point", { hasText: "Run hours" }).first();
  await expect(hours.locator(".trend")).toBeVisible();
  await page.getByLabel("Run hours in h", { exact: true }).fill("12");
  await expect(page.getByText("less than the counter showed before")).toBeVisible();
  await hours.getByRole("button", { name: "Save" }).click();
  await hours.getByRole("button", { name: "Keep it" }).click();
  await expect(hours).toContainText("12 h");

  await page.getByRole("link", { name: /Plant room check/ }).click();
  await fillIn(page, picture);
  await page.getByRole("link", { name: "Back to the visit" }).first().click();
  await page.getByRole("button", { name: "Recommend", exact: true }).click();
  await go(page, "/field/outbox");
  await phone.context.setOffline(false);
  await expect(page.getByText("Everything is at the office.")).toBeVisible({ timeout: 60_000 });

  // The office: what wants attention, and work opened for it.
  await office.getByRole("link", { name: /Review/ }).click();
  await office.getByRole("link", { name: /Wants attention/ }).click();
  const attention = office.getByRole("region", { name: "Wants attention" });
  await attention.getByRole("button", { name: /Show all/ }).click();
  const mine = (text: string | RegExp) => attention.locator("li", { hasText: text }).filter({ has: office.locator('a[href="/office/visits/vcheck"]') });
  await expect(mine("Leak in the plant room")).toContainText("Hazard");
  await expect(mine("Discharge pressure: 100 psi, too high")).toContainText("Past its alarm limit");
  await expect(mine("Change the seal")).toContainText("Recommended");
  await expect(mine("Run hours: 12 h")).toContainText("Odd value");
  await mine("Leak in the plant room").getByRole("button", { name: "Open work" }).click();
  await attention.getByRole("button", { name: "Open work order" }).click();
  await expect(mine("Leak in the plant room")).toHaveCount(0);

  // The visit: answers of the version it was opened with, lines, the marked photo.
  await go(office, "/office/visits/vcheck");
  const answers = office.getByRole("region", { name: "Check sheets" });
  await expect(answers.locator(".line", { hasText: "Any leak?" })).toContainText("Yes");
  await expect(answers.locator(".line", { hasText: "Where does it leak?" })).toContainText("Seal");
  await expect(answers.locator(".line", { hasText: "Coating" }).first()).toContainText("10 × Floor coating, two coats€199.00");
  await expect(answers.locator(".line", { hasText: "Total" })).toContainText("398.00");
  await expect(answers.locator(".line", { hasText: "With a tenth over" })).toContainText("437.80");
  await expect(office.locator(".shots .marks line")).toHaveCount(1);
  await expect(office.locator(".shots")).toContainText("Before · Drip at the gland");

  // The machine: the reading in the company's unit among the earlier ones, as a trend.
  await go(office, `/office/records/asset/${asset}`);
  await office.getByRole("button", { name: /Discharge pressure/ }).click();
  await expect(office.locator(".measured-table tbody tr").first()).toContainText("6.8948 bar (100 psi)");
  await expect(office.locator(".chart")).toBeVisible();

  // The same as files.
  const today = dayFrom(0);
  const csv = await office.evaluate(
    async (d) =>
      (await fetch(`/api/office/export/answers.csv?from=2020-01-01&to=2020-01-02`))
        .text()
        .then(async (empty) => [empty, await (await fetch(`/api/office/export/answers.csv?from=${d}&to=${d}&sheet=plant_room_check`)).text()]),
    today,
  );
  expect(csv[0].trim().split(",").slice(0, 4)).toEqual(["visit", "work_order", "date", "customer"]);
  const rows = csv[1]
    .trim()
    .split("\r\n")
    .slice(1)
    .filter((r) => r.startsWith("vcheck,"));
  expect(rows.some((r) => r.includes(",leak,yesno,") && r.includes(",yes,"))).toBe(true);
  expect(rows.filter((r) => r.includes(",coating,part,") && r.includes(",199.00,"))).toHaveLength(2);
  const readings = await office.evaluate(async (d) => (await fetch(`/api/office/export/readings.json?from=${d}&to=${d}`)).json(), today);
  expect(readings.find((r: { visit: string; point: string }) => r.visit === "vcheck" && r.point === "discharge")).toMatchObject({
    value: "6.8948",
    unit: "bar",
    as_read: "100",
    as_read_unit: "psi",
    level: "alarm_high",
  });

  await program.stop();
  expect(program.verify()).toContain("everything is what they fold to");
});

test("a sheet file goes out and comes in; a wrong one is refused with what is wrong", async ({ browser }) => {
  await program.stop(); // the first test may have left it running
  await program.start();
  const office = await browser.newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  const file = await office.evaluate(async () => (await fetch("/api/office/sheetfile/inspection@1")).text());
  expect(file).not.toContain('"program"');
  await go(office, "/office/setup/sheets");
  const take = (text: string) =>
    office.getByLabel("From a file", { exact: true }).setInputFiles({ name: "x.json", mimeType: "application/json", buffer: Buffer.from(text) });
  await take('{"title":"Evil","onload":"alert(1)"}');
  await expect(office.getByText(/This is no check sheet file/)).toBeVisible();
  await take(file.replace('"format": 1', '"format": 99'));
  await expect(office.getByText(/made with a newer program/)).toBeVisible();
  await take(file.replaceAll("Pump inspection", "Pump look-over <img src=x onerror=alert(1)>"));
  await expect(office.locator("h1")).toContainText("Pump look-over <img src=x onerror=alert(1)>");
  await expect(office.locator("h1 img")).toHaveCount(0);
  await expect(office.getByRole("button", { name: "Publish …" })).toBeEnabled();
});
