/** Planning on the board: by dragging and by keys, against warnings, with who and what goes along. */
import { expect, type Locator, type Page, test } from "@playwright/test";
import { command, dayFrom, openOrder, Program, signIn } from "./program.js";

const program = new Program();

test.beforeAll(() => program.start());
test.afterAll(() => program.stop());
test.use({ viewport: { width: 1280, height: 800 } });

const lane = (page: Page, name: string) => page.getByRole("region", { name, exact: true });
const stop = (page: Page, name: string, problem: string) => lane(page, name).getByTitle(problem);
const waiting = (page: Page, problem: string) => page.locator(".to-place").getByRole("button", { name: new RegExp(problem) });

/** Where a time of the day lies on a lane. */
async function at(track: Locator, hour: number) {
  const box = (await track.boundingBox())!;
  return { x: box.x + (box.width * hour) / 24, y: box.y + box.height / 2 };
}

async function drag(page: Page, from: { x: number; y: number }, to: { x: number; y: number }) {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 });
  await page.mouse.move(to.x, to.y, { steps: 4 });
}

const middle = async (l: Locator) => {
  const box = (await l.boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
};

/** Places what is aimed at against its warnings, when there are any. */
async function settled(page: Page, there: Locator) {
  const sure = page.getByRole("button", { name: "Plan it all the same" });
  await expect(sure.or(there)).toBeVisible();
  if (await sure.isVisible()) await sure.click();
  await expect(there).toBeVisible();
}

const chosen = (page: Page) => page.getByRole("region", { name: "Chosen visit" });

test("a call becomes a placed visit by dragging, is moved, drawn out and given to another", async ({ page }) => {
  await program.office(page, `/office?date=${dayFrom(1)}`);
  await openOrder(page, "dragged", "Dragged to the board");
  const waits = waiting(page, "Dragged to the board");
  await expect(waits).toBeVisible();
  await waits.scrollIntoViewIfNeeded();
  const ansa = lane(page, "Ansa Vane").locator(".lane-track");
  await drag(page, await middle(waits), await at(ansa, 13));
  await expect(page.locator(".ghost:not(.suggested)")).toContainText(/13:00 [+−].* driving/); // what it costs, under the pointer
  expect(await page.evaluate(() => getSelection()?.type), "nothing is taken for selected text").not.toBe("Range");
  await page.mouse.up();
  const placed = stop(page, "Ansa Vane", "Dragged to the board");
  await settled(page, placed);
  await expect(waits).toHaveCount(0);
  await expect(placed).toContainText("planned");
  await expect(chosen(page)).toContainText("planned 13:00–14:00");

  // Its end is drawn out.
  const box = (await placed.boundingBox())!;
  await drag(page, { x: box.x + box.width - 3, y: box.y + box.height / 2 }, { x: box.x + box.width - 3 + box.width / 2, y: box.y + box.height / 2 });
  await page.mouse.up();
  await settled(page, chosen(page).getByText(/planned 13:00–14:[23]\d/));

  // Let go of by Escape it stays; dropped on another lane it is another's.
  const from = await middle(placed);
  const bero = { x: from.x, y: (await middle(lane(page, "Bero Orme").locator(".lane-track"))).y };
  await drag(page, from, bero);
  await page.keyboard.press("Escape");
  await page.mouse.up();
  await expect(placed).toBeVisible();
  await drag(page, from, bero);
  await page.mouse.up();
  await settled(page, stop(page, "Bero Orme", "Dragged to the board"));
  await expect(placed).toHaveCount(0);

  await page.getByRole("button", { name: "Send it" }).click();
  await expect(stop(page, "Bero Orme", "Dragged to the board")).toContainText("sent");
});

test("the same by keys", async ({ page }) => {
  await program.office(page, `/office?date=${dayFrom(1)}`);
  await openOrder(page, "pressed", "Placed by keys", { priority: "emergency", promiseTo: new Date(Date.now() - 9 * 86_400_000).toISOString() });
  await expect(waiting(page, "Placed by keys")).toBeVisible();
  await page.keyboard.press("ArrowDown"); // the most pressing first
  await expect(waiting(page, "Placed by keys")).toHaveAttribute("aria-expanded", "true");
  await expect(page.locator(".fits button")).toHaveCount(5);
  const time = (await page.locator(".fits button").first().textContent())!.match(/\d\d:\d\d/)![0];
  const after = (minutes: number) => new Date(Date.parse(`2026-01-01T${time}:00Z`) + minutes * 60_000).toISOString().slice(11, 16);
  await page.keyboard.press("1");
  await expect(page.locator(".ghost:not(.suggested)")).toContainText(time);
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Enter");
  await settled(page, chosen(page).getByText(`planned ${after(10)}`)); // promised for today: tomorrow is late
  await expect(waiting(page, "Placed by keys")).toHaveCount(0);

  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("+");
  await page.keyboard.press("Enter");
  await settled(page, chosen(page).getByText(`planned ${after(40)}–${after(115)}`));
  await page.keyboard.press("Control+z");
  await expect(chosen(page)).toContainText(`planned ${after(10)}–${after(70)}`);
});

test("what goes against a warning is planned all the same, and why stays with the visit", async ({ page }) => {
  await program.office(page, `/office?date=${dayFrom(1)}`);
  await openOrder(page, "against", "Needs a skill that nobody has", { skills: ["high-voltage"] });
  await waiting(page, "Needs a skill that nobody has").click();
  const first = page.locator(".fits button").first();
  await expect(first).toContainText("lacks high-voltage");
  await first.click();
  const sure = page.getByRole("dialog", { name: "Plan it all the same?" });
  await expect(sure).toContainText("lacks high-voltage");
  await sure.getByLabel(/^Why/).fill("The inspector comes along");
  await sure.getByRole("button", { name: "Plan it all the same" }).click();
  await page.getByRole("link", { name: "Open the visit" }).click();
  await expect(page.getByText("The inspector comes along")).toHaveCount(2); // over it, and in its trail
});

test("a visit is drawn onto the boat's lane and has it; with Ctrl somebody comes along", async ({ page }) => {
  await program.office(page, `/office?date=${dayFrom(6)}`);
  await openOrder(page, "boated", "Goes by boat");
  const start = await page.evaluate(async (date) => {
    const board = await (await fetch(`/api/office/board?date=${date}`)).json();
    return new Date(Date.parse(board.plan.begin) + 10 * 3_600_000).toISOString();
  }, dayFrom(6));
  await command(page, "visit.planned", { type: "visit", id: "visit-boated" }, { order: "boated", technician: "kerra", start, minutes: 60 });
  await page.setViewportSize({ width: 1280, height: 1000 }); // the boat's lane is under those of people
  const taken = stop(page, "Kerra Maddow", "Goes by boat");
  const boat = lane(page, "Work boat");
  await drag(page, await middle(taken), await middle(boat));
  await expect(page.locator(".ghost:not(.suggested)")).toContainText("10:00"); // its time stays
  await page.mouse.up();
  await settled(page, boat.getByRole("button", { name: /K. Maddow/ }));
  const helper = lane(page, "Jory Thessal");
  await page.keyboard.down("Control");
  await drag(page, await middle(taken), await middle(helper));
  await expect(page.locator(".ghost:not(.suggested)")).toContainText("10:00");
  await page.mouse.up();
  await page.keyboard.up("Control");
  await settled(page, helper.getByRole("button", { name: /with K. Maddow/ }));
  await expect(taken).toBeVisible(); // whose it is stays
});

test("two people and the boat go: each lane has it, and both phones", async ({ page, browser }) => {
  await program.office(page, "/office");
  const helper = { id: "ansa", name: "Ansa Vane" };
  await openOrder(page, "boat", "Out to the island");
  // Planned for today, however late it is: what phones show first.
  const start = new Date(Math.floor(Date.now() / 300_000) * 300_000 + 1_800_000).toISOString();
  await command(page, "visit.planned", { type: "visit", id: "island" }, { order: "boat", technician: "dilys", start, minutes: 60 });
  await stop(page, "Dilys Rusk", "Out to the island").click();
  await chosen(page).getByRole("combobox", { name: "Who comes along" }).click();
  await page.getByRole("option", { name: helper.name }).click();
  await page.keyboard.press("Escape");
  await expect(lane(page, helper.name).getByText("with D. Rusk")).toBeVisible();
  await chosen(page).getByRole("combobox", { name: "What goes along" }).click();
  await page.getByRole("option", { name: "Work boat" }).click();
  await page.keyboard.press("Escape");
  await expect(lane(page, "Work boat").locator("button")).toHaveCount(1);
  await chosen(page).getByRole("button", { name: "Send it" }).click();
  await expect(chosen(page)).toContainText("sent");

  for (const login of ["dilys", helper.id]) {
    const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
    await phone.goto(program.url);
    await signIn(phone, login);
    await expect(phone.getByText("Out to the island").first(), login).toBeVisible({ timeout: 60_000 });
    await phone.getByText("Out to the island").first().click();
    await expect(phone.getByText("Work boat"), login).toBeVisible();
    await phone.context().close();
  }

  // The boat is taken: whoever plans it elsewhere at that time is told.
  const taken = await page.evaluate(async () => {
    const board = await (await fetch("/api/office/board")).json();
    return board.plan.lanes.find((l: { id: string }) => l.id === "boat").stops.map((s: { id: string }) => s.id);
  });
  expect(taken).toEqual(["island"]);
});
