import { expect, type Page } from "@playwright/test";
import { Network } from "./network.js";
import { KillablePhone, keptForOffline, openWork, Phone, Program, photos, signIn, test, write } from "./program.js";

const program = new Program();
const network = new Network(program.port);

test.beforeAll(async () => {
  await program.start();
  await network.open();
});
test.afterAll(async () => {
  network.close();
  await program.remove();
});

const pick = (page: Page) => page.locator("#photos input[type=file]").nth(1);

/** A browser that is killed forgets a sign-in of the last half minute: the app keeps all, and asks for it. */
async function signInAgain(page: Page) {
  const asked = page.getByRole("link", { name: "Sign in to send" });
  if (
    !(await asked.waitFor({ timeout: 15_000 }).then(
      () => true,
      () => false,
    ))
  )
    return; // it was kept
  await asked.click();
  await signIn(page, "dilys");
  await page.getByRole("link", { name: /^Outbox/ }).click();
}

/** How many of the photos shown on the office's page of a visit are really there. */
const arrived = (page: Page) =>
  page.locator(".shots img").evaluateAll((all) => (all as HTMLImageElement[]).filter((i) => i.complete && i.naturalWidth > 0).length);

test("a visit with 40 photos survives an upload that breaks 20 times", async ({ browser }) => {
  const phone = new Phone(network.url);
  await phone.open();
  const { page, context } = phone;
  const taken = await photos(await browser.newPage(), 40);
  await signIn(page, "ansa");
  await expect(page.getByText("All at office")).toBeVisible();
  const visit = await openWork(page);
  await page.evaluate(() => navigator.serviceWorker.ready); // the app opens with no signal from then on
  const before = await page.locator(".photo").count();
  await context.setOffline(true);
  await pick(page).setInputFiles(taken, { timeout: 120_000 });
  await expect(page.locator(".photo")).toHaveCount(before + 40, { timeout: 120_000 });
  await page.goto(`${network.url}/field/outbox`);
  await expect(page.getByText(/80 not at the office yet/)).toBeVisible();
  await expect(page.locator(".line", { hasText: "photo-7.jpg" }).last()).toContainText("goes after the entry");

  network.after = 200_000;
  network.breaks = 20;
  await context.setOffline(false);
  await expect(page.getByText("Everything is at the office.")).toBeVisible({ timeout: 240_000 });
  expect(network.broken).toBe(20);

  const office = await browser.newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByRole("link", { name: /Review/ })).toBeVisible();
  await office.goto(`${program.url}/office/visits/${visit}`);
  await expect(office.locator(".shots li")).toHaveCount(before + 40);
  for (const shot of await office.locator(".shots img").all()) await shot.scrollIntoViewIfNeeded();
  await expect.poll(() => arrived(office)).toBe(before + 40);
  // The large one was made smaller on the phone before it was kept.
  const sizes = await office.locator(".shots a").evaluateAll((all) =>
    Promise.all(
      (all as HTMLAnchorElement[]).map(async (a) => {
        const b = await createImageBitmap(await (await fetch(a.href)).blob());
        return Math.max(b.width, b.height);
      }),
    ),
  );
  expect(Math.max(...sizes)).toBe(2560);
  await phone.remove();
});

test("a browser killed between recording and syncing, and during an upload, loses nothing", async ({ browser }) => {
  const taken = await photos(await browser.newPage(), 2);
  const phone = new KillablePhone(network.url);
  let page = await phone.open();
  await signIn(page, "dilys");
  await expect(page.getByText("All at office")).toBeVisible();
  const visit = await openWork(page);
  await keptForOffline(page);
  network.bar(true);
  await write(page, "before the browser died");
  const before = await page.locator(".photo").count();
  await pick(page).setInputFiles(taken);
  await expect(page.locator(".photo")).toHaveCount(before + 2);
  await phone.kill();

  page = await phone.open(`${network.url}/field/outbox`);
  await expect(page.getByText(/5 not at the office yet/)).toBeVisible();
  network.after = 100_000;
  network.breaks = 1000; // it gets nowhere near the end
  network.bar(false);
  await signInAgain(page);
  const broken = network.broken;
  await expect.poll(() => network.broken, { timeout: 60_000 }).toBeGreaterThan(broken + 1);
  await phone.kill();

  network.breaks = 0;
  page = await phone.open(`${network.url}/field/outbox`);
  await signInAgain(page);
  await expect(page.getByText("Everything is at the office.")).toBeVisible({ timeout: 120_000 });
  await phone.remove();

  const office = await browser.newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByRole("link", { name: /Review/ })).toBeVisible();
  await office.goto(`${program.url}/office/visits/${visit}`);
  await expect(office.getByText("wrote “before the browser died”")).toHaveCount(1);
  await expect(office.locator(".shots li")).toHaveCount(before + 2);
  for (const shot of await office.locator(".shots img").all()) await shot.scrollIntoViewIfNeeded();
  await expect.poll(() => arrived(office)).toBe(before + 2);
});

test("a network that drops in the middle of what is sent and of what is answered", async () => {
  const phone = new Phone(network.url);
  await phone.open();
  const { page, context } = phone;
  await signIn(page, "ansa");
  await expect(page.getByText("All at office")).toBeVisible();
  await openWork(page);
  await context.setOffline(true);
  for (const n of [1, 2, 3]) await write(page, `dropped ${n}`);
  network.cutRequests = 2;
  network.cutAnswers = 2;
  await context.setOffline(false);
  await expect(page.locator(".sync-mark")).toHaveText("All at office", { timeout: 90_000 });
  expect([network.cutRequests, network.cutAnswers]).toEqual([0, 0]);
  await page.reload();
  for (const n of [1, 2, 3]) await expect(page.locator("#notes .line", { hasText: `dropped ${n}` })).toHaveCount(1);
  await phone.remove();
});

test("the office's manuals are on the phone before there is no signal", async () => {
  const phone = new Phone(program.url);
  await phone.open();
  const { page, context } = phone;
  await signIn(page, "ansa");
  await expect(page.getByText("All at office")).toBeVisible();
  await openWork(page);
  const papers = page.locator("#papers .line");
  await expect(papers.first()).toContainText("manual.pdf");
  await expect(papers.first()).toContainText(/on this phone|fetched when you open it/);
  if (!(await papers.first().textContent())?.includes("on this phone")) {
    await Promise.all([page.waitForEvent("popup"), papers.first().click()]);
    await expect(papers.first()).toContainText("on this phone");
  }
  await context.setOffline(true);
  const [popup] = await Promise.all([page.waitForEvent("popup"), papers.first().click()]);
  await expect.poll(() => popup.url(), { timeout: 10_000 }).toMatch(/^blob:|^about:blank/);
  const kept = await page.evaluate(async () => {
    const open = indexedDB.open("iter-ansa");
    const db = await new Promise<IDBDatabase>((done) => {
      open.onsuccess = () => done(open.result);
    });
    const all = db.transaction("files").objectStore("files").getAll();
    await new Promise((done) => {
      all.onsuccess = done;
    });
    const pdf = all.result.find((f: { type: string }) => f.type === "application/pdf");
    return (await pdf.blob.text()).slice(0, 5);
  });
  expect(kept).toBe("%PDF-");
  await phone.remove();
});

test("what a caller sent goes with the order, and to the phone", async ({ browser, page }) => {
  await program.office(page, "/office/intake?site=S001");
  await page.getByLabel("Problem or plan").fill("Gauge glass is cracked");
  const [photo] = await photos(await browser.newPage(), 1);
  await page.getByLabel("Add documents").setInputFiles(photo);
  const sent = page.getByRole("link", { name: photo.name });
  await expect(sent).toBeVisible();
  await page.reload();
  await expect(sent).toBeVisible();
  await page.getByRole("button", { name: "Open work order", exact: true }).click();
  const id = () => page.evaluate(async () => (await (await fetch("/api/office/lists/orders?q=gauge+glass+cracked")).json()).lines[0]?.id as string | undefined);
  await expect.poll(id).toBeTruthy();
  await page.goto(`${program.url}/office/orders/${await id()}`);
  const papers = page.getByRole("region", { name: "Papers and photos for it" });
  await expect(papers.getByRole("link", { name: photo.name })).toBeVisible();

  const phone = new Phone(program.url);
  await phone.open();
  await signIn(phone.page, "ansa");
  await expect(phone.page.getByText("All at office")).toBeVisible();
  const visit = await openWork(phone.page);
  const order = await page.evaluate(async (v) => (await (await fetch(`/api/office/visits/${v}`)).json()).view.visit.order as string, visit);
  await page.goto(`${program.url}/office/orders/${order}`);
  await papers.getByLabel("Add documents").setInputFiles({ ...photo, name: "where-it-is.jpg" });
  const there = phone.page.locator("#papers .line", { hasText: "where-it-is.jpg" });
  await expect(there).toContainText("on this phone", { timeout: 60_000 });
  await phone.remove();
});
