/** The second visit begins where the first ended: what was measured, answered and drawn is there. */
import { expect, type Page } from "@playwright/test";
import { command, Phone, Program, signIn, test } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

test.beforeAll(() => program.start());
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

const sheet = {
  id: "again",
  version: 1,
  title: "Dosing room",
  sections: [
    {
      title: "Setting",
      questions: [
        { id: "stroke", kind: "number", text: "Stroke length", unit: "%", prefill: "last" },
        { id: "code", kind: "scan", text: "Code on the pump" },
        { id: "seen", kind: "signature", text: "Seen by" },
      ],
    },
    { id: "rooms", title: "Rooms", repeat: { noun: "room" }, questions: [{ id: "floor", kind: "area", text: "Floor" }] },
  ],
};

/** A visit for Ansa to a dosing unit, with no sheet. */
async function send(office: Page, n: number) {
  const place = await office.evaluate(async () => {
    for (const q of ["water board", "dairies", "marina", "parks"]) {
      for (const c of await (await fetch(`/api/office/customers?q=${q}`)).json()) {
        for (const s of c.sites) for (const a of s.assets) if (a.name === "Dosing unit") return { customer: c.id, site: s.id, asset: a.id };
      }
    }
    throw new Error("no dosing unit");
  });
  await command(
    office,
    "work.opened",
    { type: "workorder", id: `wagain${n}` },
    { ...place, problem: `Dosing, visit ${n}`, priority: "normal", minutes: 30, sheets: [] },
  );
  const visit = { type: "visit", id: `vagain${n}` };
  await command(office, "visit.planned", visit, { order: `wagain${n}`, technician: "ansa", start: new Date().toISOString(), minutes: 30 });
  await command(office, "visit.sent", visit, {});
}

async function arrive(page: Page, n: number) {
  await page.goto(`${program.url}/field`);
  await page
    .locator(".stop", { hasText: `Dosing, visit ${n}` })
    .getByRole("link")
    .click();
  // Whoever is there already has no way to go.
  for (const step of n === 1 ? ["Accept", "Set off", "Arrived"] : ["Accept", "Start work"])
    await page.locator(".dock").getByRole("button", { name: step }).click();
  await expect(page.locator(".dock").getByText("On site")).toBeVisible();
}

test("areas, settings and sketches", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  await command(office, "record.created", { type: "sheet", id: "again@1" }, sheet);
  await send(office, 1);

  // The office adds a sheet by hand, after the visit was sent.
  await office.goto(`${program.url}/office/visits/vagain1`);
  await office.getByLabel("Add a check sheet …").selectOption({ label: "Dosing room" });
  await phone.open();
  const page = phone.page;
  await signIn(page, "ansa");
  await expect(page.locator(".stop", { hasText: "Dosing, visit 1" })).toBeVisible();
  await arrive(page, 1);
  await expect(page.getByRole("link", { name: /Dosing room/ })).toBeVisible();

  // A sketch, of the machine, with words on it; a note out of ready-made texts.
  await page.getByRole("button", { name: "Of Dosing unit" }).click();
  await page.getByRole("button", { name: "Sketch", exact: true }).click();
  await page.locator("#photos .photo").click();
  await page.getByRole("button", { name: "Draw or describe" }).click();
  await page.getByRole("button", { name: "Words" }).click();
  await page.getByLabel("Words to put on it").fill("valve here");
  await page.locator(".marks-draw").click({ position: { x: 80, y: 60 } });
  await page.getByRole("dialog", { name: "Draw on the photo" }).getByRole("button", { name: "Save" }).click();
  await page.getByRole("button", { name: "Close", exact: true }).click();
  await page.getByRole("button", { name: "Left running, no leaks." }).click();
  await page.getByRole("button", { name: "Save note" }).click();
  await expect(page.locator("#notes .line")).toContainText("Left running, no leaks.");

  await page.getByRole("link", { name: /Dosing room/ }).click();
  const stroke = page.getByRole("textbox", { name: "Stroke length" });
  await stroke.fill("62,5");
  await stroke.blur();
  await page.getByRole("textbox", { name: "Code on the pump" }).fill("DP-4417");
  await page.getByRole("textbox", { name: "Code on the pump" }).blur();
  await page.getByRole("button", { name: "Save signature" }).click();
  await expect(page.getByText("There is no signature yet.")).toBeVisible();
  await page.getByRole("button", { name: "Add a room" }).click();
  await page.getByLabel("What is it? (kept for next time)").fill("Dosing room floor");
  await page.getByLabel("Length", { exact: true }).fill("3");
  await page.getByLabel("Width", { exact: true }).fill("2");
  await page.getByRole("button", { name: "Take a shape off" }).click();
  await page.getByRole("group", { name: "Taken off" }).getByRole("button", { name: "By sides" }).click();
  for (const [side, size] of [
    ["Side 1", "3"],
    ["Side 2", "1"],
    ["Side 3", "1"],
  ])
    await page.getByRole("group", { name: "Taken off" }).getByLabel(side).fill(size);
  await expect(page.getByText("Shape 2: these sides do not meet. Measure again.")).toBeVisible();
  // An L of 18 m² in the place of the triangle: its sizes fit other shapes, so that it is asked which it is; by an angle it is plain.
  const off = page.getByRole("group", { name: "Taken off" });
  for (let n = 3; n < 6; n++) await off.getByRole("button", { name: "One side more" }).click();
  const sizes = ["2", "4", "3", "2", "5", "6", "4,472135955", "6,403124237", "7,810249676"];
  for (const [i, label] of ["Side 1", "Side 2", "Side 3", "Side 4", "Side 5", "Side 6", "Corner 1 to 3", "Corner 1 to 4", "Corner 1 to 5"].entries())
    await off.getByLabel(label).fill(sizes[i]);
  await expect(page.getByText("These sizes fit more than one shape.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Keep", exact: true })).toBeDisabled();
  for (let n = 6; n > 3; n--) await off.getByRole("button", { name: "One side fewer" }).click();
  for (const side of ["Side 1", "Side 2", "Side 3"]) await off.getByLabel(side).fill("1");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await page.getByRole("link", { name: "Back to the visit" }).first().click();

  // The next visit, by hand with the same sheet: the setting and the area are there.
  await send(office, 2);
  await page.goto(`${program.url}/field`);
  await expect(page.locator(".stop", { hasText: "Dosing, visit 2" })).toBeVisible();
  await arrive(page, 2);
  await page.getByRole("button", { name: "Add a check sheet" }).click();
  await page.getByRole("button", { name: /Dosing room/ }).click();
  await page.getByRole("link", { name: /Dosing room/ }).click();
  await expect(page.getByRole("textbox", { name: "Stroke length" })).toHaveValue("62.5");
  await page.getByRole("button", { name: "Add a room" }).click();
  await page.getByRole("button", { name: "As measured before: Dosing room floor" }).click();
  await expect(page.locator(".area output")).toContainText("5.567 m²");

  await office.goto(`${program.url}/office/visits/vagain1`);
  await expect(office.locator(".shots")).toContainText("Of Dosing unit");
  await expect(office.locator(".shots .marks text")).toHaveText("valve here");
  await expect(office.getByRole("region", { name: "Check sheets" }).locator(".line", { hasText: "Floor" })).toContainText("Dosing room floor");
});
