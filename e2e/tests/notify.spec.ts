/** Technicians are told of changed plans while their app is closed, and the office sees whether they looked. */
import { expect } from "@playwright/test";
import { command, dayFrom, keptForOffline, openOrder, Phone, Program, signIn, test } from "./program.js";
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
  const plan = async (id: string, problem: string, time: string) => {
    await openOrder(page, id, problem);
    const start = await page.evaluate(
      async ([date, time]) => {
        const board = await (await fetch(`/api/office/board?date=${date}`)).json();
        const [h, m] = time.split(":").map(Number);
        return new Date(Date.parse(board.plan.begin) + (h * 60 + m) * 60_000).toISOString();
      },
      [day, time],
    );
    await command(page, "visit.planned", { type: "visit", id: `visit-${id}` }, { order: id, technician: "ansa", start, minutes: 60 });
    await command(page, "visit.sent", { type: "visit", id: `visit-${id}` }, {});
  };
  await plan("told1", "First that she is told of", "06:00");
  await plan("told2", "Second that she is told of", "07:30");
  await expect.poll(() => service.messages.length).toBeGreaterThan(0);
  const told = service.messages.map((m) => m.text).join("\n");
  expect(told).toContain("First that she is told of");
  const stop = page.getByRole("region", { name: "Ansa Vane", exact: true }).getByTitle("First that she is told of");
  await stop.click();
  const chosen = page.getByRole("region", { name: "Chosen visit" });
  await expect(chosen).toContainText("not seen yet");
  await expect(chosen).toContainText("notified");

  // A look at the visit is told to the office.
  await phone.page.goto(`${program.url}/field/visit/visit-told1`);
  await expect(phone.page.getByText("First that she is told of").first()).toBeVisible();
  await expect(chosen).toContainText(/seen \d\d:\d\d/);
  await phone.remove();
});
