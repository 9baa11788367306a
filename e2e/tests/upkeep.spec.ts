/** Work that comes back: plans are written, orders open by themselves, once and one for a site, and what falls due is moved, skipped, and taken back. */
import { expect, type Page } from "@playwright/test";
import { choose, command, dayFrom, go, Program, test, typeDate, typeTime } from "./program.js";

const program = new Program();

test.beforeAll(() => program.start());
test.afterAll(() => program.remove());

interface Place {
  site: string;
  name: string;
  assets: { id: string; name: string }[];
}

/** A site of the distillers with two machines. */
async function placeWithTwo(page: Page): Promise<Place> {
  const [customer] = await page.evaluate(async () => (await fetch("/api/office/customers?q=distillers")).json());
  const site = customer.sites.find((s: { assets: object[] }) => s.assets.length > 1);
  return { site: site.id, name: site.site.name, assets: site.assets };
}

const job = { problem: "Yearly check", minutes: 30 };

test("a plan opens one work order for the machines of a site by itself, and the next is skipped, taken back and moved", async ({ page }) => {
  await program.office(page, "/office/home");
  const { assets, name } = await placeWithTwo(page);
  const other = { ...job, name: "Other check", tasks: ["Look at it"], assets: [assets[1].id], rule: "FREQ=YEARLY", begin: dayFrom(9), before: 5 };
  await command(page, "record.created", { type: "upkeep", id: "other" }, other);
  await page.keyboard.press("m");
  await page.getByRole("button", { name: "New maintenance plan" }).click();
  const drawer = page.getByRole("dialog");
  await drawer.getByLabel("Name", { exact: true }).fill("Quarterly service");
  await drawer.getByLabel("Find a machine").fill(`${name} ${assets[0].name}`);
  await drawer.locator("button.choice").first().click();
  await drawer.getByLabel("What the work order says").fill("Quarterly service of what is there");
  await drawer.getByLabel("Steps, one to a line").fill("Clean it\nTest it");
  await expect(drawer.getByLabel("Every", { exact: true })).toHaveValue("3");
  await drawer.getByRole("button", { name: "Save" }).click();

  await expect(page.getByRole("heading", { level: 1, name: "Quarterly service" })).toBeVisible();
  await expect(page.getByText("every 3 months")).toBeVisible();
  const coming = page.getByRole("region", { name: "What falls due" });
  const order = coming.locator('a[href^="/office/orders/"]');
  await expect(order).toHaveCount(1); // a moment after it was saved
  await order.click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Quarterly service of what is there");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Yearly check"); // which may be done on the same days
  await expect(page.getByText("Maintenance plan")).toContainText("Other check");
  for (const step of ["Clean it", "Test it", "Look at it"]) await expect(page.getByText(step).first()).toBeVisible();
  await go(page, "/office");
  await expect(page.locator(".to-place", { hasText: "Quarterly service of what is there" })).toContainText("due ");

  await go(page, `/office/records/asset/${assets[0].id}`);
  const due = page.getByRole("region", { name: "Due" });
  await due.getByRole("link", { name: "Quarterly service" }).first().click();
  const second = coming.getByRole("row").nth(2);
  await second.getByRole("button", { name: /Move or skip/ }).click();
  await expect(drawer.getByRole("button", { name: "Skip it this once" })).toBeDisabled(); // it takes a reason
  await drawer.getByLabel("Why").fill("The still is being rebuilt");
  await drawer.getByRole("button", { name: "Skip it this once" }).click();
  await expect(second).toContainText("skipped");
  await expect(page.getByRole("region", { name: "Moved and skipped" })).toContainText("The still is being rebuilt");
  await page.keyboard.press("Control+z");
  await expect(second).not.toContainText("skipped");
  await second.getByRole("button", { name: /Move or skip/ }).click();
  await typeDate(drawer.getByRole("group", { name: "To be done on" }), dayFrom(1));
  await drawer.getByRole("button", { name: "Move it" }).click();
  await expect(order).toHaveCount(2); // that one opens as well
  await expect(coming.getByRole("row").nth(2)).toContainText("moved from");

  await go(page, `/office?view=month&date=${dayFrom(1)}`);
  const day = page.getByRole("cell").filter({ has: page.getByRole("button", { name: String(Number(dayFrom(1).slice(8))), exact: true }) });
  await expect(day.getByText(/due by plan, /).first()).toBeVisible();
});

test("a rule that never comes, or comes too often, is refused in words, and what is typed stays", async ({ page }) => {
  await program.office(page, "/office/home");
  const { site, name } = await placeWithTwo(page);
  await go(page, `/office/records/site/${site}`);
  await page.getByRole("region", { name: "Due" }).getByRole("button", { name: "New maintenance plan" }).click();
  const drawer = page.getByRole("dialog");
  await expect(drawer.getByText(name, { exact: true })).toBeVisible(); // it is for the site
  await drawer.getByLabel("Name", { exact: true }).fill("Odd days");
  await drawer.getByLabel("What the work order says").fill("Walk round");
  await choose(drawer.getByLabel("Unit"), "a rule of its own");
  const rule = drawer.getByLabel("Rule (RFC 5545)");
  const save = drawer.getByRole("button", { name: "Save" });
  for (const [text, words] of [
    ["FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30", "nothing falls due within 12 years"],
    ["FREQ=HOURLY", "daily at the most"],
    ["FREQ=DAILY;INTERVAL=0", "every 1 to 1000"],
    ["when there is time", "can't be read"],
  ]) {
    await rule.fill(text);
    await save.click();
    await expect(drawer.getByRole("alert")).toContainText(words);
  }
  await rule.fill("FREQ=DAILY");
  await drawer.getByLabel("Days before those that its work order opens").fill("300");
  await save.click();
  await expect(page.getByRole("heading", { level: 1, name: "Odd days" })).toBeVisible();
  await expect(page.getByText("more than 31 work orders would open at once, so none does")).toBeVisible();
});

test("an agreement names machines, by which plans fall due; the year's load is in hours", async ({ page }) => {
  await program.office(page, "/office/upkeep?view=agreements");
  const { assets, name } = await placeWithTwo(page);
  await page.getByRole("button", { name: "New agreement" }).click();
  const drawer = page.getByRole("dialog");
  await drawer.getByLabel("Name", { exact: true }).fill("Still care");
  await drawer.getByLabel("Customer").fill("Distillers");
  await drawer.locator("button.choice").first().click();
  await drawer.getByLabel("Find a machine").fill(`${name} ${assets[0].name}`);
  await drawer.locator("button.choice").first().click();
  await drawer.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Still care")).toBeVisible();
  await expect(page.locator(".line", { hasText: "Still care" })).toContainText("1 machine");
  await page.getByRole("tab", { name: "The year's load" }).click();
  await expect(page.getByRole("row").nth(1)).toContainText(/\d %/);
});

test("at a call, times are offered that suit the caller, and what is chosen is promised", async ({ page }) => {
  await program.office(page, "/office/home");
  const { site } = await placeWithTwo(page);
  await go(page, `/office/intake?site=${site}`);
  const coming = [3, 4, 5, 6, 7].map((n) => new Date(`${dayFrom(n)}T12:00:00Z`));
  const day = coming.find((d) => d.getUTCDay() >= 2 && d.getUTCDay() <= 4)!; // on which people are at work
  const name = day.toLocaleDateString("en-GB", { weekday: "short", timeZone: "UTC" });
  const times = page.getByRole("group", { name: /Somebody could come/ }).getByRole("button");
  await page.getByText("Only when it suits them").click();
  await page.getByRole("group", { name: /^Days/ }).getByRole("button", { name, exact: true }).click();
  await expect(times.first()).toContainText(new RegExp(`^${name}`));
  await typeTime(page.getByRole("group", { name: "Not before" }), "13:00");
  // Until they are worked out for the afternoon, those before stay.
  await expect.poll(async () => (await times.allTextContents()).filter((text) => !new RegExp(`^${name}.* (1[3-9]|2\\d):`).test(text))).toEqual([]);
  await times.first().click();
  await page.reload(); // what was asked for is not lost
  await expect(page.getByRole("group", { name: "Date" }).first()).toContainText(String(day.getUTCFullYear()));
  await expect(page.getByRole("button", { name, exact: true })).toHaveAttribute("aria-pressed", "true");
});

test("a year of due work opens, and what falls due at a site on the same days is one order, with its tasks by machine", async ({ page }) => {
  await program.office(page, "/office/home");
  const [customer] = await page.evaluate(async () => (await fetch("/api/office/customers?q=distillers")).json());
  const sites = customer.sites.filter((s: { assets: object[] }) => s.assets.length > 1);
  const { site, assets } = { site: sites.at(-1).id, assets: sites.at(-1).assets as { id: string; name: string }[] };
  const plan = { rule: "FREQ=MONTHLY", before: 3, after: 3, ahead: 360, minutes: 30 };
  await command(
    page,
    "record.created",
    { type: "upkeep", id: "year1" },
    { ...plan, name: "Valves", problem: "Monthly valves", tasks: ["Exercise the valves"], assets: [assets[0].id], begin: dayFrom(5) },
  );
  await command(
    page,
    "record.created",
    { type: "upkeep", id: "year2" },
    { ...plan, name: "Filters", problem: "Monthly filters", tasks: ["Change the filter"], assets: [assets[1].id], begin: dayFrom(7) },
  );
  type Line = { order?: string; on: string; number?: string };
  const due = () => page.evaluate(async (id) => (await (await fetch(`/api/office/upkeep/${id}`)).json()).coming as Line[], "year1");
  const opened = async () => [...new Set((await due()).filter((l) => l.order).map((l) => l.order))];
  await expect.poll(async () => (await opened()).length, { timeout: 30_000 }).toBeGreaterThanOrEqual(12);
  const orders = await opened();
  for (const id of orders) {
    const order = await page.evaluate(async (id) => (await (await fetch(`/api/office/orders/${id}`)).json()).order, id ?? "");
    expect(order.site).toBe(site);
    const tasks = order.tasks.map((t: { name: string; asset?: string }) => [t.name, t.asset]);
    expect(tasks).toContainEqual(["Exercise the valves", assets[0].id]);
    expect(tasks).toContainEqual(["Change the filter", assets[1].id]);
  }
  expect(await opened()).toEqual(orders); // once
  await go(page, `/office/orders/${orders[0]}`);
  await expect(page.getByText("Exercise the valves").first()).toBeVisible();
  await expect(page.getByText("Change the filter").first()).toBeVisible();
});
