/** The stores' day: two vans hand over, a place is counted, vans are filled up, orders are cancelled, files are read. */
import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { type BrowserContext, expect, type Page, test } from "@playwright/test";
import { binary, command, Program, signIn } from "./program.js";

const program = new Program(8446);

test.beforeAll(() => program.start());
test.afterAll(() => program.remove());

const people = [
  { id: "tove", name: "Tove Linde", van: "van-tove", place: "Van 20" },
  { id: "ebbe", name: "Ebbe Holt", van: "van-ebbe", place: "Van 21" },
];

async function prepare(office: Page) {
  const record = (type: string, id: string, body: object) => command(office, "record.created", { type, id }, body);
  const secrets: string[] = [];
  for (const p of people) {
    await record("place", p.van, { name: p.place, kind: "van", person: p.id });
    await record("person", p.id, { name: p.name, short: p.name, roles: ["technician"], van: p.van });
    await record("levels", p.van, { levels: { "SK-38": { min: "2", max: "4" } } });
    await command(office, "stock.counted", { type: "stock", id: p.van }, { part: "GR-40", quantity: "6" });
    await command(office, "stock.counted", { type: "stock", id: p.van }, { part: "SK-38", quantity: "2" });
    secrets.push(execFileSync(binary, ["password", "--data", program.data, "--login", p.id], { encoding: "utf8" }).trim().split(" ").at(-1)!);
  }
  return secrets;
}

async function phone(context: BrowserContext, login: string, secret: string): Promise<Page> {
  const page = await context.newPage();
  await page.goto(program.url);
  await signIn(page, login, secret);
  await expect(page.getByText("All at office")).toBeVisible();
  await page.getByRole("link", { name: "Van", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Your van" })).toBeVisible();
  return page;
}

const held = (page: Page, part: string) => page.locator("li", { hasText: part }).locator(".end b");

test("parts go from van to van, and the stores keep up", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "petrok");
  await expect(office.getByText("To place")).toBeVisible();
  const secrets = await prepare(office);
  const small = { viewport: { width: 390, height: 844 }, locale: "en-GB", timezoneId: "Europe/Dublin" };
  const contexts = await Promise.all(people.map(() => browser.newContext(small)));
  const [tove, ebbe] = await Promise.all(people.map((p, i) => phone(contexts[i], p.id, secrets[i])));

  await test.step("from van to van, without signal on either side", () => handOver(contexts, tove, ebbe, office));
  await test.step("taken off a store's shelf, and thrown away", () => fetchAndScrap(tove));
  await test.step("a place is counted, and filled up with one tap", () => countAndFill(office));
  await test.step("an order is cancelled, and what it was for is asked for again", () => cancel(office));
  await test.step("a part is made, printed, read from a file", () => catalogue(office));
});

async function handOver(contexts: BrowserContext[], tove: Page, ebbe: Page, office: Page) {
  await contexts[0].setOffline(true);
  await tove.getByRole("button", { name: "Hand parts over" }).click();
  const drawer = tove.getByRole("dialog");
  await drawer.getByLabel("To", { exact: true }).click();
  await tove.getByRole("option", { name: "Van 21" }).click();
  await drawer.getByLabel("Part name or number").fill("grease");
  await drawer.getByRole("button", { name: /Bearing grease/ }).click();
  await drawer.getByLabel("Quantity").fill("4");
  await drawer.getByRole("button", { name: "Hand over 1 part" }).click();
  await expect(tove.getByText("On its way to Van 21", { exact: true })).toBeVisible();
  await expect(held(tove, "Bearing grease")).toHaveText("2");
  await contexts[0].setOffline(false);

  await expect(ebbe.getByText("From Van 20")).toBeVisible({ timeout: 60_000 });
  await expect(held(ebbe, "Bearing grease")).toHaveText("6"); // not there before it is confirmed
  await office.goto(`${program.url}/office/stores/moving`);
  await expect(office.locator(".line", { hasText: "Van 20 to Van 21" })).toContainText("not confirmed yet");
  await contexts[1].setOffline(true);
  await ebbe.getByRole("button", { name: "It arrived" }).click();
  const confirm = ebbe.getByRole("dialog");
  await confirm.getByLabel("Arrived of 4").fill("3");
  await expect(confirm).toContainText("What is missing is told to the sender and the stores.");
  await confirm.getByRole("button", { name: "This is what arrived" }).click();
  await expect(held(ebbe, "Bearing grease")).toHaveText("9");
  await contexts[1].setOffline(false);

  const line = office.locator(".line", { hasText: "Van 20 to Van 21" });
  await expect(line).toContainText("did not arrive: 1 × Bearing grease", { timeout: 60_000 });
  await line.getByRole("button", { name: "It is still at Van 20" }).click();
  await expect(line).toHaveCount(0);
  await expect(held(tove, "Bearing grease")).toHaveText("3", { timeout: 60_000 });
}

async function fetchAndScrap(tove: Page) {
  await tove.getByRole("button", { name: "Take from a store" }).click();
  const drawer = tove.getByRole("dialog");
  await drawer.getByLabel("Part name or number").fill("contactor");
  await drawer.getByRole("button", { name: /Contactor/ }).click();
  await drawer.getByRole("button", { name: "One more" }).click();
  await drawer.getByRole("button", { name: "Take 1 part" }).click();
  await expect(held(tove, "Contactor")).toHaveText("2");
  await tove.getByRole("button", { name: /Contactor/ }).click();
  const one = tove.getByRole("dialog");
  await one.getByLabel("Lost or thrown away").fill("1");
  await expect(one.getByRole("button", { name: "Take it off" })).toBeDisabled(); // why?
  await one.getByLabel("Why").fill("Coil burnt");
  await one.getByRole("button", { name: "Take it off" }).click();
  await expect(held(tove, "Contactor")).toHaveText("1");
}

async function countAndFill(office: Page) {
  await office.goto(`${program.url}/office/stores/places/van-ebbe`);
  await office.getByRole("button", { name: "Count", exact: true }).click();
  await office.getByLabel("Mechanical seal kit 38 mm: counted").fill("1");
  await office.getByLabel("Bearing grease, 400 g: counted").fill("9");
  await expect(office.getByText("1 of them differs from the book")).toBeVisible();
  await office.getByLabel("Why they differ").fill("Used and not written down");
  await office.getByRole("button", { name: "Book 2 counts" }).click();
  const moved = office.getByRole("region", { name: "What moved" });
  await expect(moved).toContainText("(the book said 2)");
  await expect(moved).toContainText("Used and not written down");
  await office.goto(`${program.url}/office/stores/fill`);
  const van = office.getByRole("region", { name: "Van 21" });
  const field = van.getByLabel("Mechanical seal kit 38 mm: fill up with");
  await expect(field).toHaveValue("3"); // one of least two, most four
  await van.getByRole("button", { name: /^Hand over 1 line from Main store/ }).click();
  await expect(van).toHaveCount(0); // what is on its way counts
}

async function cancel(office: Page) {
  await office.goto(`${program.url}/office/stores`);
  const line = office.locator(".request", { hasText: "Bearing 6305" });
  await line.getByRole("button", { name: /^Order at/ }).click();
  await expect(line).toContainText("ordered");
  const number = (await line.getByText(/on P\d+/).textContent())!.match(/P\d+/)![0];
  await office.goto(`${program.url}/office/stores/orders`);
  const order = office.locator(".purchase", { hasText: number });
  await order.getByRole("button", { name: "Cancel the order" }).click();
  await order.getByLabel("Why it is cancelled").fill("They have none until spring");
  await order.locator("form").getByRole("button", { name: "Cancel the order" }).click();
  await expect(order).toContainText("cancelled");
  await office.goto(`${program.url}/office/stores`);
  await expect(line).toContainText("They have none until spring");
  await expect(line.getByRole("button", { name: /^Order at/ })).toBeVisible();
  await line.getByRole("button", { name: "Decline" }).click();
  await line.getByLabel("Why not").fill("The customer waits");
  await line.locator("form").getByRole("button", { name: "Decline" }).click();
  await expect(line).toHaveCount(0);
  await office.getByRole("button", { name: "show what is over" }).click();
  await expect(line).toContainText("declined");
}

async function catalogue(office: Page) {
  await office.goto(`${program.url}/office/stores/catalogue`);
  await office.getByRole("button", { name: "New part" }).click();
  const form = office.getByRole("dialog");
  await form.getByLabel("Number", { exact: true }).fill("ZZ-1");
  await form.getByLabel("Name", { exact: true }).fill("Level float");
  await form.getByLabel("Price", { exact: true }).fill("19,50");
  await form.getByLabel("Packs, as box=10, one a line").fill("box=four");
  await expect(form.getByRole("button", { name: "Save" })).toBeDisabled();
  await form.getByLabel("Packs, as box=10, one a line").fill("box=4");
  await form.getByRole("button", { name: "Save" }).click();
  await expect(form).toHaveCount(0);
  await office.getByLabel("Part name or number").fill("float level");
  const row = office.locator("tr", { hasText: "Level float" });
  await expect(row).toContainText("box of 4");
  await expect(row).toContainText("€19.50");
  await row.getByRole("checkbox").check();
  await expect(office.getByRole("link", { name: "Print 1 label" })).toHaveAttribute("href", /parts=ZZ-1/);

  const bad = join(program.data, "parts.csv");
  writeFileSync(bad, "number,name,unit,price\nZZ-2,Float switch,each,cheap\n");
  const file = office.locator("input[type=file]");
  await file.setInputFiles(bad);
  await expect(office.getByText("Nothing was read: 1 mistake in the file")).toBeVisible();
  await expect(office.getByText(/parts.csv:2 column price: expected a number/)).toBeVisible();
  writeFileSync(bad, "number,name,unit,price\nZZ-2,Float switch,each,12.5\n");
  await file.setInputFiles(bad);
  await expect(office.getByText("Read: 1 new, 0 changed, 0 as before")).toBeVisible();
  const strange = join(program.data, "people.csv");
  writeFileSync(strange, "id\n");
  await file.setInputFiles(strange);
  await expect(office.getByText("Name the file parts.csv, stock.csv or levels.csv. Nothing was read.")).toBeVisible();
}
