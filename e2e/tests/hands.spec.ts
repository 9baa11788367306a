import { expect } from "@playwright/test";
import { openWork, Phone, Program, photos, signIn, test, write } from "./program.js";

const program = new Program();

test.beforeAll(() => program.start());
test.afterAll(() => program.remove());

async function field(login: string): Promise<Phone> {
  const phone = new Phone(program.url);
  await phone.open();
  await signIn(phone.page, login);
  await expect(phone.page.getByText("All at office")).toBeVisible();
  await phone.page.evaluate(() => navigator.serviceWorker.ready); // the app opens with no signal from then on
  return phone;
}

test("unsent work is saved to a file and taken in at the office, once", async ({ page, browser }) => {
  const phone = await field("ansa");
  const visit = await openWork(phone.page);
  await phone.context.setOffline(true);
  await write(phone.page, "carried by hand");
  const before = await phone.page.locator(".photo").count();
  await phone.page
    .locator("#photos input[type=file]")
    .nth(1)
    .setInputFiles(await photos(await browser.newPage(), 1));
  await expect(phone.page.locator(".photo")).toHaveCount(before + 1);
  await phone.page.goto(`${program.url}/field/outbox`);
  const [download] = await Promise.all([phone.page.waitForEvent("download"), phone.page.getByRole("button", { name: "Save unsent work to a file" }).click()]);
  const file = await download.path();
  await program.office(page, "/office/setup");
  await page.getByLabel("Choose the file").setInputFiles(file);
  await expect(page.getByText(/From Ansa Vane.*2 entries taken, 0 had arrived before, 0 held, 1 files/)).toBeVisible();
  await page.goto(`${program.url}/office/visits/${visit}`);
  await expect(page.getByText("wrote “carried by hand”")).toHaveCount(1);
  await expect(page.locator(".shots img").last()).toBeVisible();
  await phone.context.setOffline(false);
  await expect(phone.page.getByText("Everything is at the office.")).toBeVisible({ timeout: 60_000 });
  await page.reload();
  await expect(page.getByText("wrote “carried by hand”")).toHaveCount(1);
  await phone.remove();
});

test("two people change the same field; the office restores the earlier with one tap", async ({ page }) => {
  const phone = await field("ansa");
  await openWork(phone.page);
  await phone.context.setOffline(true);
  await phone.page.getByRole("button", { name: /Correct what is known of/ }).click();
  const name = ((await phone.page.locator(".correct h2").textContent()) ?? "").replace("Correct what is known of ", "");
  await phone.page.getByLabel("Access").fill("Go in by the slipway");
  await phone.page.getByRole("button", { name: "Save the correction" }).click();
  await expect(phone.page.locator("#brief")).toContainText("Go in by the slipway");

  await program.office(page, `/office/lists/sites?q=${encodeURIComponent(name)}`);
  await page.getByRole("link", { name, exact: true }).click();
  await page.getByLabel("Access").fill("New gate code 7731");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await phone.context.setOffline(false);
  await expect(phone.page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });

  const clash = page.locator(".look-line", { hasText: "New gate code 7731" });
  await expect(clash).toContainText("Go in by the slipway", { timeout: 60_000 });
  await clash.getByRole("button", { name: "Restore the earlier" }).click();
  await expect(clash).toHaveCount(0);
  await expect(page.getByLabel("Access")).toHaveValue("New gate code 7731");
  await expect(phone.page.locator("#brief")).toContainText("New gate code 7731", { timeout: 60_000 });
  await phone.remove();
});

test("the office strikes out and restores, and after its review a technician no longer can", async ({ page }) => {
  const phone = await field("ansa");
  const visit = await openWork(phone.page, ".stop.done a");
  await write(phone.page, "belongs to another visit");
  await expect(phone.page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });
  await program.office(page, `/office/visits/${visit}`);
  const line = page.getByRole("region", { name: "Trail" }).locator("li", { hasText: "wrote “belongs to another visit”" });
  const decide = async (word: string) => {
    await line.getByRole("button", { name: word }).click();
    await line.getByLabel("Reason").fill("asked by phone");
    await line.getByRole("button", { name: word }).click();
  };
  await decide("Strike out");
  await expect(phone.page.locator("#notes .struck", { hasText: "belongs to another visit" })).toBeVisible({ timeout: 60_000 });
  await decide("Restore");
  await expect(phone.page.locator("#notes .struck", { hasText: "belongs to another visit" })).toHaveCount(0, { timeout: 60_000 });
  await expect(page.getByText("struck out for the office: Note: asked by phone")).toBeVisible();
  const mine = phone.page.locator("#notes .line", { hasText: "belongs to another visit" }).getByRole("button", { name: "Strike out" });
  await expect(mine).toBeVisible();
  await page.getByRole("button", { name: "Reviewed" }).click();
  await expect(page.getByText(/^Reviewed \d/)).toBeVisible();
  await expect(mine).toHaveCount(0, { timeout: 60_000 });
  await phone.remove();
});

test("what was recorded on a visit that was given away is told to both sides, until it is seen and settled", async ({ page }) => {
  const phone = await field("dilys");
  await phone.page
    .locator(".stop", { hasText: /sent · / })
    .getByRole("link")
    .first()
    .click();
  await phone.page.locator(".dock").getByRole("button", { name: "Accept" }).click();
  await expect(phone.page.locator(".sync-mark")).toHaveText("All at office", { timeout: 60_000 });
  const visit = phone.page.url().split("/").pop() ?? "";
  await phone.context.setOffline(true);
  await write(phone.page, "done on the way");
  await program.office(page, "/office");
  await page.evaluate(async (id) => {
    const board = await (await fetch(`/api/office/visits/${id}`)).json();
    const body = { technician: "bero", start: board.view.visit.start, minutes: 45 };
    const made = { id: "01HZZZZZZZZZZZZZZZZZZZZZZ7", kind: "visit.moved", subject: { type: "visit", id }, body };
    await fetch("/api/office/entries", {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ entries: [made], seen: Number.MAX_SAFE_INTEGER }),
    });
  }, visit);
  await phone.context.setOffline(false);
  await phone.page.goto(`${program.url}/field/outbox`);
  const mine = phone.page.locator(".look", { hasText: "no longer had the visit" });
  await expect(mine).toBeVisible({ timeout: 60_000 });
  await mine.getByRole("button", { name: "Seen" }).click();
  await expect(mine).toHaveCount(0);
  await page.goto(`${program.url}/office/review/attention`);
  const theirs = page.locator(".look-line", { hasText: "Dilys Rusk" }).filter({ hasText: "no longer had the visit" });
  await theirs.getByRole("button", { name: "Leave it credited to Dilys Rusk" }).click();
  await expect(theirs).toHaveCount(0);
  await phone.remove();
});

test("a device whose access is ended hands over what it has, wipes itself and says so", async ({ page }) => {
  const phone = await field("dilys");
  const visit = await openWork(phone.page, ".stop.done a");
  await phone.context.setOffline(true);
  await write(phone.page, "the last note of this phone");
  await program.office(page, "/office/setup");
  const device = page.locator("tr", { hasText: "Dilys Rusk" }).first(); // the last heard of
  await device.getByRole("button", { name: "End access" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "End access" }).click();
  await expect(page.getByText("Ends at its next contact")).toBeVisible();
  await phone.context.setOffline(false);
  await expect(phone.page.getByText(/The office ended this device's access/)).toBeVisible({ timeout: 60_000 });
  expect(await phone.page.evaluate(async () => (await indexedDB.databases()).map((d) => d.name))).toEqual([]);
  await expect(page.getByText(/^Wiped \d/)).toBeVisible({ timeout: 60_000 });
  await page.goto(`${program.url}/office/visits/${visit}`);
  await expect(page.getByText("wrote “the last note of this phone”")).toBeVisible();
  await phone.remove();
});
