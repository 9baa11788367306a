/** One current picture of each main view, from demo data, into docs/screenshots. */
import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { type Browser, expect, type Page, test } from "@playwright/test";
import { zone } from "../playwright.config.js";
import { choose, Program, signIn } from "../tests/program.js";

const program = new Program();
const out = join(import.meta.dirname, "../../docs/screenshots");

test.beforeAll(() => program.start(240));
test.afterAll(() => program.remove());

async function open(browser: Browser, login: string, width: number, height: number, ground = "light"): Promise<Page> {
  const context = await browser.newContext({ viewport: { width, height }, locale: "en-GB", timezoneId: zone, reducedMotion: "reduce" });
  const page = await context.newPage();
  await page.addInitScript((g) => localStorage.setItem("iter.ground", g), ground);
  await page.goto(program.url);
  if (login) await signIn(page, login);
  return page;
}

const shoot = async (page: Page, name: string) => {
  await page.waitForTimeout(800);
  await page.screenshot({ path: join(out, `${name}.png`) });
};

test("pictures", async ({ browser }) => {
  const office = await open(browser, "mirin", 1280, 800);
  await expect(office.getByText("To place")).toBeVisible();
  await shoot(office, "home");
  await office.goto(`${program.url}/office/lists/orders?by=state`);
  await expect(office.getByRole("navigation", { name: "Grouped by State" })).toBeVisible();
  await shoot(office, "lists");
  await office.goto(`${program.url}/office/upkeep`);
  await expect(office.getByRole("row").nth(3)).toBeVisible();
  await shoot(office, "maintenance");
  await office.goto(`${program.url}/office`);
  await office.locator(".to-place [data-take]").nth(1).click();
  await expect(office.locator(".ghost.suggested").first()).toBeAttached();
  await shoot(office, "board");
  await office.goto(`${program.url}/office/review`);
  await expect(office.getByRole("table")).toBeVisible();
  await shoot(office, "review");
  await office.locator("tr", { hasText: "changed since signed" }).getByRole("link").first().click();
  await expect(office.getByText("Trail", { exact: true })).toBeVisible();
  await shoot(office, "finished-visit");
  // The first page of a report, as a reader of PDF has it.
  const pdf = await office.evaluate(async () => {
    for (const l of await (await fetch("/api/office/finished")).json()) {
      const { visit } = (await (await fetch(`/api/office/visits/${l.id}`)).json()).view;
      const made = visit.reports?.find((r: { layout: string }) => r.layout === "full");
      if (made && visit.files?.length > 1) return [...new Uint8Array(await (await fetch(`/api/reports/${made.entry}.pdf`)).arrayBuffer())];
    }
    return [];
  });
  writeFileSync(join(program.data, "report.pdf"), Buffer.from(pdf));
  execFileSync("pdftoppm", ["-r", "76", "-png", "-singlefile", join(program.data, "report.pdf"), join(out, "report")]);
  // The machine that has been measured most.
  const machine = await office.evaluate(async () => {
    let best = { id: "A001-1", times: 0 };
    for (const q of ["water board", "dairies", "fish", "growers", "distill", "parks", "homes"]) {
      for (const c of await (await fetch(`/api/office/customers?q=${q}`)).json()) {
        for (const a of c.sites.flatMap((x: { assets: { id: string; name: string }[] }) => x.assets)) {
          if (a.name !== "Booster set") continue;
          const times = (await (await fetch(`/api/office/measured/${a.id}`)).json())[0].values.length;
          if (times > best.times) best = { id: a.id, times };
        }
      }
    }
    return best.id;
  });
  await office.goto(`${program.url}/office/records/asset/${machine}`);
  await expect(office.locator(".chart svg").first()).toBeVisible();
  await shoot(office, "machine");
  await office.goto(`${program.url}/office/setup/sheets/inspection`);
  await office.locator(".outline-name", { hasText: "Seal dry?" }).click();
  await expect(office.locator(".preview .question").first()).toBeVisible();
  await office
    .locator(".preview")
    .getByRole("group", { name: /Seal dry/ })
    .getByRole("button", { name: "No" })
    .click();
  await shoot(office, "designer");
  // Work that came back, with what was done on its visit.
  const back = await office.evaluate(async () => (await (await fetch("/api/office/board")).json()).unplaced.find((o: { back?: boolean }) => o.back)?.id);
  await office.goto(`${program.url}/office/orders/${back}`);
  await expect(office.getByRole("list", { name: "Its visits" })).toContainText("Return needed");
  await shoot(office, "order");
  await office.goto(`${program.url}/office/intake`);
  await office.getByLabel(/Customer: part/).fill("vella");
  await office.getByRole("button", { name: /Water Board, Wells/ }).click();
  await choose(office.getByRole("combobox", { name: "Site" }), "", 2);
  await shoot(office, "intake");
  const stores = await open(browser, "oriel", 1280, 800);
  await expect(stores.getByRole("heading", { name: "What waits for you" })).toBeVisible();
  await stores.goto(`${program.url}/office/stores`);
  await expect(stores.locator(".request").first()).toBeVisible();
  await shoot(stores, "stores");
  await office.goto(`${program.url}/office/hours`);
  await expect(office.locator(".hours-day").first()).toBeVisible();
  await shoot(office, "hours");

  const terminal = await open(browser, "workshop", 1280, 800);
  for (const key of ["1", "0", "4", "Next", "2", "5", "8", "0", "Sign in"]) await terminal.getByRole("button", { name: key, exact: true }).click();
  await expect(terminal.getByRole("heading", { name: "Dilys Rusk" })).toBeVisible();
  await shoot(terminal, "terminal");

  const phone = await open(browser, "ansa", 390, 844);
  await expect(phone.locator(".stop").first()).toBeVisible();
  await shoot(phone, "route");
  await phone.locator(".stop.now a, .stop.done a").last().click();
  await expect(phone.getByLabel("Write a note")).toBeVisible();
  await shoot(phone, "visit");
  await phone.getByRole("button", { name: "Find a part" }).click();
  await phone.getByLabel("Part name or number").fill("mecanical seel");
  await phone.getByRole("button", { name: /Mechanical seal kit 38 mm/ }).click();
  await phone.getByRole("dialog").locator(".choice").nth(3).click();
  await shoot(phone, "parts");
  await phone.getByRole("button", { name: "Close, keep what is typed" }).click();
  await phone.context().setOffline(true);
  await phone.getByLabel("Write a note").fill("Coupling is worn, order one.");
  await phone.getByRole("button", { name: "Save note" }).click();
  await phone.getByRole("link", { name: "No signal" }).click();
  await expect(phone.locator("li.line")).not.toHaveCount(0);
  await phone.getByRole("link", { name: "Time" }).click();
  await expect(phone.getByText("Travel").first()).toBeVisible();
  await shoot(phone, "time");
  await phone.context().setOffline(false);
  await phone.getByRole("link", { name: "Route" }).click();
  await phone.locator(".stop.now a, .stop.done a").last().click();
  await phone.getByRole("button", { name: "Add a check sheet" }).click();
  await phone.getByRole("button", { name: /Plant room survey/ }).click();
  await phone.locator(".sheet-row", { hasText: "Plant room survey" }).click();
  await phone.getByRole("button", { name: "Add a room" }).click();
  await phone.getByLabel("Length").fill("4.2");
  await phone.getByLabel("Width").fill("3");
  await phone.getByRole("button", { name: "Keep", exact: true }).click();
  await phone.locator("#section-rooms").evaluate((e) => e.scrollIntoView());
  await shoot(phone, "check-sheet");
});
