/** What goes wrong, why, what was done about it, and what the company has learned of it: said, found again, and sent in. */
import { expect } from "@playwright/test";
import { command, go, keptForOffline, openWork, Phone, Program, signIn, test } from "./program.js";

const program = new Program();
const phone = new Phone(program.url);

test.beforeAll(() => program.start());
test.afterAll(async () => {
  await phone.remove();
  await program.remove();
});

test("the company's words for what goes wrong grow, and are asked at the finish", async ({ page }) => {
  await program.office(page, "/office/setup/troubles", "petrok");
  await page.getByRole("button", { name: "Below Noise or vibration" }).click();
  const drawer = page.getByRole("dialog");
  await drawer.getByLabel("In words").fill("Cavitation");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "Change Cavitation" })).toBeVisible();
  await page.getByRole("button", { name: "Below Cavitation" }).click();
  await drawer.getByLabel("In words").fill("Suction side opened");
  await drawer.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Suction side opened")).toBeVisible();
  await page.reload();
  await expect(page.locator("li", { hasText: "Noise or vibration" }).locator("li li", { hasText: "Suction side opened" })).toBeVisible();
  await go(page, "/office/setup/ends");
  await page
    .getByRole("row", { name: /Cause and remedy/ })
    .getByText("asked for", { exact: false })
    .first()
    .click();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Devices have it with the next sync.")).toBeVisible();
});

test("cause and remedy are said without signal, know-how is read, and something new is sent in", async ({ page }) => {
  await program.office(page, "/office/home");
  await phone.open();
  await signIn(phone.page, "ansa");
  await keptForOffline(phone.page);
  await openWork(phone.page);
  const visit = phone.page.url().split("/").pop()!.split("?")[0];
  const order: { kind: string } = await page.evaluate(async (id) => {
    const v = (await (await fetch(`/api/office/visits/${id}`)).json()).view;
    return { kind: v.asset?.kind ?? "" };
  }, visit);
  await command(
    page,
    "record.created",
    { type: "knowhow", id: "valve" },
    { title: "The valve behind the tank", text: "Shut it a quarter turn only.", kinds: [order.kind] },
  );
  const learned = phone.page.locator("#knowhow");
  await expect(learned.getByText("The valve behind the tank")).toBeVisible({ timeout: 60_000 });
  await phone.context.setOffline(true);
  await learned.getByText("The valve behind the tank").click();
  await expect(learned.getByText("Shut it a quarter turn only.")).toBeVisible();

  // By any word of the way to it; what hangs under the trouble comes first.
  const trouble = phone.page.locator("#trouble");
  await expect(trouble.getByRole("heading")).toBeVisible();
  const more = trouble.getByRole("button", { name: "Say another" }); // where something was said before
  if (await more.isVisible()) await more.click();
  await trouble.getByLabel("Trouble", { exact: true }).fill("vibr");
  await phone.page.getByRole("option", { name: "Noise or vibration" }).click();
  await trouble.getByLabel("Cause", { exact: true }).fill("cavi");
  await phone.page.getByRole("option", { name: /Cavitation/ }).click();
  await phone.page.reload();
  await expect(trouble.getByLabel("Cause", { exact: true })).toHaveValue(/Cavitation/);
  await trouble.getByLabel("Remedy", { exact: true }).click();
  await phone.page.getByRole("option").first().click();
  await trouble.getByRole("button", { name: "Keep it" }).click();
  await expect(trouble.getByText("Noise or vibration › Cavitation › Suction side opened")).toBeVisible();

  await learned.getByRole("button", { name: "Send in something learned" }).click();
  await phone.page.getByLabel("What it is about").fill("Cavitation at low tide");
  await phone.page.getByLabel("What others should know").fill("Throttle the outlet until the tide turns.");
  await phone.page.getByRole("button", { name: "Send it to the office" }).click();
  await expect(learned.getByText("the office has not looked at it yet")).toBeVisible();
  await phone.context.setOffline(false);
  await expect(phone.page.getByText("All at office")).toBeVisible({ timeout: 60_000 });

  await go(page, `/office/visits/${visit}`);
  await expect(page.getByText("Noise or vibration › Cavitation › Suction side opened")).toBeVisible();
  await go(page, "/office/knowhow");
  await expect(page.getByText("sent in by")).toBeVisible();
  await page.getByRole("link", { name: "Cavitation at low tide" }).click();
  await page.getByRole("button", { name: "Offer it to others" }).click();
  await expect(page.getByRole("button", { name: "Offer it to others" })).toHaveCount(0);
  await expect(learned.getByText("the office has not looked at it yet")).toHaveCount(0, { timeout: 60_000 });
  await page.keyboard.press("Control+k");
  await page.getByRole("combobox", { name: "Find anything, or say what to do" }).fill("low tide");
  await expect(page.getByRole("option").filter({ hasText: "Cavitation at low tide" })).toBeVisible();
});
