import { expect, type Page } from "@playwright/test";
import { choose, draw, Phone, Program, signIn, test } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

test.beforeAll(() => program.start());
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

const problem = "Pump 1 has lost its prime after the storm";

/** The office opens a work order at Innisgarve, plans it for Ansa and sends it. */
async function openPlanSend(office: Page) {
  await office.getByRole("link", { name: /Intake/ }).click();
  await office.getByLabel(/Customer: part/).fill("distill");
  await office.getByRole("button", { name: /Innisgarve Distillers/ }).click();
  await choose(office.getByRole("combobox", { name: "Site" }));
  await choose(office.getByRole("combobox", { name: "Machine" }), "Booster set");
  await office.getByLabel("Problem or plan").fill(problem);
  await office.getByRole("button", { name: "Emergency" }).click();
  await office.getByRole("button", { name: "Open work order" }).click();
  await choose(office.getByRole("combobox", { name: "Technician" }), "Ansa Vane");
  await office.getByRole("button", { name: "Plan and send" }).click();
  await expect(office.getByText(/Sent to Ansa Vane/)).toBeVisible();
}

/** All that is recorded on a visit, tap by tap. */
async function recordEverything(page: Page) {
  await page.getByLabel("Suction pressure in bar").fill("1,15");
  await expect(page.locator("#readings").getByText("within limits")).toBeVisible();
  await page.locator("#readings").getByRole("button", { name: "Save" }).first().click();
  await page.getByLabel("Discharge pressure in bar").fill("2.10");
  await expect(page.locator("#readings").getByText("too low")).toBeVisible();
  await page
    .locator(".point-entry", { has: page.getByLabel("Discharge pressure in bar") })
    .getByRole("button", { name: "Save" })
    .click();
  await expect(page.locator("#readings .line").filter({ hasText: "Discharge" })).toContainText("2.1");

  const answer = (question: string, option: string) =>
    page
      .getByRole("group", { name: new RegExp(question) })
      .getByRole("button", { name: option, exact: true })
      .click();
  await answer("Isolated and safe", "Yes");
  await answer("Any leaks", "No");
  await answer("Noise and vibration", "Raised");
  const bearing = page.getByRole("textbox", { name: /Bearing temperature/ });
  await bearing.fill("999");
  await bearing.blur();
  await expect(page.getByText("The most is 150 °C. Check the value.")).toBeVisible();
  await bearing.fill("61,5");
  await bearing.blur();

  await page.getByRole("button", { name: "Find a part" }).click();
  await page.getByLabel("Part name or number").fill("seal 38");
  await page.getByRole("button", { name: /Mechanical seal kit 38 mm/ }).click();
  await page.getByRole("button", { name: "One more" }).click();
  await page.getByRole("button", { name: "Use 1 part", exact: true }).click();
  const used = page.locator("#parts .line", { has: page.getByRole("button", { name: "Strike out" }) });
  await expect(used).toContainText(/Mechanical seal kit 38 mm[\s\S]*2/);

  await page.getByLabel("Write a note").fill("Strainer was full of weed.\nFlushed and primed.");
  await page.getByRole("button", { name: "Save note" }).click();
  await expect(page.locator("#notes .line").last()).toContainText("Strainer was full of weed.");
}

async function sign(page: Page) {
  await page.getByRole("button", { name: "Get signature" }).click();
  await page.getByLabel("Name").fill("Aveline Stroud");
  await page.getByLabel("Role").fill("Maintenance");
  await page.getByRole("button", { name: "Save signature" }).click();
  await expect(page.getByText("There is no signature yet.")).toBeVisible();
  await draw(page);
  await page.getByRole("button", { name: "Save signature" }).click();
  await expect(page.getByText(/Aveline Stroud, Maintenance/)).toBeVisible();
}

test("a whole visit offline reaches the office by itself", async ({ browser }) => {
  const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();

  await phone.open();
  await signIn(phone.page, "ansa");
  await expect(phone.page.getByText("All at office")).toBeVisible();
  // Everything that the app needs is stored before the signal goes.
  await phone.page.evaluate(() => navigator.serviceWorker.ready);
  await phone.page.locator(".stop").first().click();
  await expect(phone.page.locator(".visit-title")).toBeVisible();
  await phone.page.goBack();
  await phone.page.getByRole("link", { name: "Van" }).click();
  const van = phone.page.locator(".line", { hasText: "Mechanical seal kit 38 mm" }).locator(".end");
  const before = Number.parseFloat((await van.textContent()) ?? "");
  await phone.page.getByRole("link", { name: "Route" }).click();

  await openPlanSend(office);
  const stop = phone.page.locator(".stop", { hasText: problem });
  await expect(stop).toContainText("new"); // announced by itself
  // The dispatcher leaves the visit's page open and waits.
  await office.getByRole("link", { name: /Board/ }).click();
  await office.getByRole("region", { name: "Ansa Vane" }).getByTitle(problem).click();
  await office.getByRole("link", { name: "Open the visit" }).click();
  await expect(office.locator(".visit-page-stage")).toContainText("sent");

  // The signal goes, and the server is restarted meanwhile.
  await phone.context.setOffline(true);
  await program.stop();
  const page = () => phone.page;
  await stop.getByRole("link").click();
  await expect(page().locator(".visit-title")).toContainText("No signal");
  const dock = () => page().locator(".dock");
  // Hours are whole seconds: on a fast machine a drive would come to none.
  const aSecondHasPassed = () => expect(dock()).toContainText(/\d:\d\d:(0[1-9]|[1-5]\d)/);
  await dock().getByRole("button", { name: "Accept" }).click();
  await expect(page().getByText("accepted", { exact: true })).toBeVisible();
  await dock().getByRole("button", { name: "Set off" }).click();
  await expect(dock().getByText("Travelling")).toBeVisible();

  // The phone's browser is closed and started again, still with no signal.
  await phone.close();
  await phone.open(true);
  await expect(dock().getByText("Travelling")).toBeVisible();
  await aSecondHasPassed();
  await dock().getByRole("button", { name: "Arrived" }).click();
  await expect(dock().getByText("On site")).toBeVisible();
  await recordEverything(page());
  await aSecondHasPassed();
  await dock().getByRole("button", { name: "Pause" }).click();
  await page().getByRole("button", { name: "Waiting for the customer" }).click();
  await expect(dock().getByText("Paused")).toBeVisible();
  await dock().getByRole("button", { name: "Resume" }).click();
  await page()
    .getByRole("group", { name: /Left running/ })
    .getByRole("button", { name: "Yes" })
    .click();
  await sign(page());
  await expect(page().getByText("Nothing is missing.")).toBeVisible();
  await dock().getByRole("button", { name: "Finish" }).click();
  await page()
    .getByRole("button", { name: /Complete/ })
    .click();
  await expect(page().locator(".visit-title")).toContainText("finished");

  await page().goto(`${program.url}/field/van`);
  await expect(van_(page())).toContainText(String(before - 2));
  await page().getByRole("link", { name: "Outbox" }).click();
  await expect(page().locator(".line").filter({ hasText: "Signature" })).toContainText("waits for signal");
  expect(await page().locator(".plain li.line").count()).toBe(17);

  // The server is back, then the signal: nothing is pressed on either side.
  await program.start();
  await phone.context.setOffline(false);
  await expect(page().getByText("Everything is at the office.")).toBeVisible({ timeout: 40_000 });
  await expect(office.locator(".visit-page-stage")).toContainText("finished · Complete", { timeout: 40_000 });

  const section = (name: string) => office.getByRole("region", { name, exact: true });
  await expect(section("Readings").locator(".line")).toHaveText([
    /Suction pressure.*1.15 bar/,
    /Discharge pressure.*too low.*2.1 bar/,
    /Head.*worked out.*9.7 m/,
  ]);
  await expect(section("Parts").locator(".line")).toContainText([/Mechanical seal kit 38 mm SK-38\s*2/]);
  await expect(section("Notes").locator(".line")).toHaveText([/Strainer was full of weed.\s*Flushed and primed./]);
  await expect(section("Check sheets").locator(".line")).toHaveText([
    /Isolated.*Yes/,
    /leaks.*No/,
    /Noise.*Raised/,
    /Bearing.*61.5 °C/,
    /Left running.*Yes/,
    /Remarks.*not answered/,
  ]);
  await expect(section("Signature").locator("figure")).toHaveCount(1);
  await expect(section("Signature")).toContainText("Aveline Stroud, Maintenance");
  await expect(office.getByText("changed since signed")).toHaveCount(0);

  // The same hours on both sides, to the second: the phone's from its own core, the office's from the server's.
  await page().goto(`${program.url}/field`);
  await page().locator(".stop", { hasText: problem }).getByRole("link").click();
  const seconds = async (p: Page) => {
    await expect(p.locator("[data-seconds]")).toHaveCount(4);
    return p.locator("[data-seconds]").evaluateAll((all) => all.map((e) => Number(e.getAttribute("data-seconds"))));
  };
  const hours = await seconds(office);
  expect(hours[0]).toBeGreaterThan(0); // travel
  expect(hours[1]).toBeGreaterThan(0); // work
  expect(await seconds(page())).toEqual(hours);

  // Each entry once, recorded offline with its position, in plain words.
  const trail = section("Trail").locator("li");
  await expect(trail).toHaveCount(19);
  await expect(trail.filter({ hasText: "took the signature of Aveline Stroud" })).toContainText("at 54.8123, -9.2145");
  await expect(trail.filter({ hasText: "used 2 each Mechanical seal kit 38 mm" })).toHaveCount(1);
  await expect(trail.filter({ hasText: "Ansa Vane set off" })).toContainText("Android");

  await program.stop();
  expect(program.verify()).toContain("everything is what they fold to");
});

const van_ = (page: Page) => page.locator(".line", { hasText: "Mechanical seal kit 38 mm" }).locator(".end");
