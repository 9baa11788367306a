/** Technicians are told of changed plans while their app is closed, and the office sees whether they looked. */
import { expect } from "@playwright/test";
import { dayFrom, keptForOffline, momentAt, openOrder, Phone, Program, signIn, test, written } from "./program.js";
import { PushService } from "./pushservice.js";

const program = new Program();
const service = new PushService();

test.beforeAll(async () => {
  await service.start();
  await program.start(undefined, ["--push-local", "--notify-after", "1s"]);
});
test.afterAll(async () => {
  service.stop();
  await program.remove();
});

test("a phone whose app is closed is told once of all that changed, and the board says who has seen it", async ({ page }) => {
  const phone = new Phone(program.url);
  await phone.open();
  await service.serve(phone.context);
  await phone.page.goto(program.url);
  await signIn(phone.page, "ansa");
  await keptForOffline(phone.page);
  await phone.page.getByRole("link", { name: "Outbox" }).click();
  await expect(phone.page.getByText("also when this app is closed")).toBeVisible();
  await phone.page.goto("about:blank"); // the app is closed

  const day = dayFrom(2);
  await program.office(page, `/office?date=${day}`);
  for (const [id, problem] of [
    ["told1", "First that she is told of"],
    ["told2", "Second that she is told of"],
  ])
    await openOrder(page, id, problem);
  // Planned and sent at once, as a draft is published.
  const visits = [
    ["told1", written(momentAt(day, "06:00").toISOString())],
    ["told2", written(momentAt(day, "07:30").toISOString())],
  ];
  await page.evaluate(async (visits) => {
    const entries = visits.flatMap(([order, start], i) => {
      const subject = { type: "visit", id: `visit-${order}` };
      const id = (n: number) => `01ZZZZZZZZ00000000000000${i}${n}`;
      return [
        { id: id(0), kind: "visit.planned", subject, body: { order, technician: "ansa", start, minutes: 60 } },
        { id: id(1), kind: "visit.sent", subject, body: {} },
      ];
    });
    const body = JSON.stringify({ entries, seen: Number.MAX_SAFE_INTEGER });
    const answer = await fetch("/api/office/entries", { method: "POST", headers: { "Content-Type": "application/json" }, body });
    if (!answer.ok) throw new Error(await answer.text());
  }, visits);
  await expect.poll(() => service.messages.length).toBeGreaterThan(0);
  const stop = page.getByRole("region", { name: "Ansa Vane", exact: true }).getByTitle("First that she is told of");
  await stop.click();
  const chosen = page.getByRole("region", { name: "Chosen visit" });
  await expect(chosen).toContainText("not seen yet");
  await expect(chosen).toContainText("notified");

  // A look at the visit is told to the office.
  await phone.page.goto(`${program.url}/field/visit/visit-told1`);
  await expect(phone.page.getByText("First that she is told of").first()).toBeVisible();
  await expect(chosen).toContainText(/seen \d\d:\d\d/);
  expect(service.messages).toHaveLength(1);
  expect(service.messages[0].title).toBe("Your plan: 2 new");
  expect(service.messages[0].text).toContain("First that she is told of");
  expect(service.messages[0].text).toContain("Second that she is told of");
  await phone.remove();
});
