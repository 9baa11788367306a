/**
 * Somebody who presses and types anything, from a seed: a technician with a phone that loses signal, is reloaded and killed, and an office that
 * plans meanwhile. Afterwards every word is recorded or still in its field, and dock, Time and board agree.
 *
 *   MINUTES=30 SEED=7 npx playwright test --config soak.config.ts
 */
import { expect, type Page, test } from "@playwright/test";
import { command, Phone, Program, signIn, storedAs } from "../tests/program.js";

const minutes = Number(process.env.MINUTES ?? 3);
const seed = Number(process.env.SEED ?? Date.now() % 100_000);

/** Random numbers below one, from a seed (mulberry32). */
function random(from: number): () => number {
  let a = from;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

const next = random(seed);
const below = (n: number) => Math.floor(next() * n);
const chance = (share: number) => next() < share;

const program = new Program();
const phone = new Phone(program.url);
let office: Page;
let offline = false;
let planned = 0;
/** every word that was typed */
const words: string[] = [];
const word = () => {
  words.push(`word${seed}x${words.length}`);
  return words[words.length - 1];
};
const done: string[] = [];
/** What was done before and after a word was typed. */
const around = (w: string) => {
  const at = done.indexOf(`  ${w}`);
  return [`${w}:`, ...done.slice(Math.max(0, at - 12), at + 12)].join("\n");
};

const page = () => phone.page;
const soon = { timeout: 3000 };

/** Presses something if it is there; what is in the way, or gone by then, is part of it. */
async function press(name: string | RegExp, within = "body"): Promise<boolean> {
  const all = page().locator(within).getByRole("button", { name });
  const count = await all.count();
  if (count === 0) return false;
  return all
    .nth(below(count))
    .click(soon)
    .then(
      () => true,
      () => false,
    );
}

async function type(label: string | RegExp, text: string, within = "body"): Promise<boolean> {
  const field = page().locator(within).getByLabel(label).first();
  if (!(await field.count())) return false;
  // what was begun there stays
  const begun = await field.inputValue(soon).catch(() => "");
  return field.fill(begun ? `${begun} ${text}` : text, soon).then(
    () => true,
    () => false,
  );
}

/** Types a word where it goes; it counts as typed once it is in the field. */
async function typeWord(label: string | RegExp, within = "body"): Promise<boolean> {
  const text = word();
  if (await type(label, text, within)) {
    done.push(`  ${text}`);
    await expect.poll(() => storedAs(page(), "ansa", "drafts"), { message: "stored as it is typed", timeout: 3000 }).toContain(text);
    return true;
  }
  words.pop();
  return false;
}

async function openVisit() {
  await page()
    .goto(`${program.url}/field`)
    .catch(() => {});
  const stops = page().locator(".stop a");
  const count = await stops.count();
  if (count)
    await stops
      .nth(below(count))
      .click(soon)
      .catch(() => {});
}

async function plan() {
  const places = await office.evaluate(async () => (await fetch("/api/office/customers?q=water board")).json());
  const site = places[0].sites[below(places[0].sites.length)];
  const id = `monkey${seed}x${++planned}`;
  const order = { customer: places[0].id, site: site.id, problem: `Monkey ${planned}`, priority: "normal", minutes: 30 };
  await command(office, "work.opened", { type: "workorder", id: `w${id}` }, order);
  const visit = { type: "visit", id: `v${id}` };
  await command(office, "visit.planned", visit, { order: `w${id}`, technician: "ansa", start: new Date().toISOString(), minutes: 30 });
  await command(office, "visit.sent", visit, {});
}

/** Stays at the visit that is open, most of the time, or opens one. */
async function atVisit() {
  if (!page().url().includes("/field/visit/")) await openVisit();
  await page().locator(".dock").waitFor(soon);
}

/** Presses what opens a drawer at a visit and types a word into a field of it; then saves it, or leaves it half typed. */
async function inDrawer(open: string | RegExp, label: string, save: string | RegExp) {
  await atVisit();
  if (!(await page().getByRole("dialog").count())) await press(open);
  await page().getByRole("dialog").getByLabel(label).first().waitFor(soon);
  if (!(await typeWord(label, "[role=dialog]"))) return;
  if (chance(0.5)) await press(save, "[role=dialog]");
  else if (chance(0.6)) await page().goBack(soon);
}

const deeds: [share: number, name: string, act: () => Promise<unknown>][] = [
  [4, "another visit", openVisit],
  [
    12,
    "a note",
    async () => {
      await atVisit();
      return (await typeWord("Write a note")) && chance(0.5) && press("Save note");
    },
  ],
  [8, "an expense", () => inDrawer("Expense or one-off", "Description", "Add")],
  [5, "found work", () => inDrawer("Found work", "What is to be done?", /Do it now|Leave it/)],
  [6, "a word to the office", () => inDrawer(/^(Write|Open)$/, "Your message", "Send")],
  [14, "the dock", () => press(/^(Accept|Set off|Arrived|Start work|Resume|Finish|Pause)$/, ".dock")],
  [4, "an end", () => press(/^Complete/, "[role=dialog]")],
  [2, "an undo", () => press(/^Wrong tap/, ".dock")],
  [4, "back", () => page().goBack(soon)],
  [4, "a reload", () => page().reload()],
  [3, "another screen", () => page().goto(`${program.url}/field/${["", "van", "time", "outbox"][below(4)]}`)],
  [
    2,
    "other work",
    async () => {
      await page().goto(`${program.url}/field/time`);
      return (await press(/^Stop /)) || ((await press("Other work")) && press(/Workshop|Training/, "[role=dialog]"));
    },
  ],
  [
    3,
    "signal",
    async () => {
      offline = !offline;
      await phone.context.setOffline(offline);
    },
  ],
  [
    1,
    "a kill",
    async () => {
      await phone.kill();
      await phone.open(offline, `${program.url}/field`);
    },
  ],
  [3, "the office plans", plan],
  [1, "the office loads anew", () => office.reload()],
];
const shares = deeds.reduce((n, [share]) => n + share, 0);

async function act() {
  let at = below(shares);
  for (const [share, name, deed] of deeds) {
    at -= share;
    if (at >= 0) continue;
    done.push(name);
    await deed().catch((e: Error) => {
      if (e.message.includes("stored as it is typed")) throw e;
      done.push(`  ${e.message.split("\n")[0]}`);
    });
    return;
  }
}

async function settled() {
  offline = false;
  await phone.context.setOffline(false);
  await page().goto(`${program.url}/field`);
  const mark = page().locator(".sync-mark");
  await expect(mark).toHaveText(/All at office|Sign in to send/, { timeout: 60_000 });
  // A browser that is killed may not have written its cookie yet.
  if ((await mark.textContent()) === "Sign in to send") {
    await mark.click();
    await signIn(page(), "ansa");
  }
  await expect(mark).toHaveText("All at office", { timeout: 60_000 });
}

interface OnBoard {
  id: string;
  site: string;
  stage: string;
  on?: boolean;
  left?: boolean;
}

/** Dock, Time and board say the same of the clock. */
async function agree() {
  await settled();
  const board: OnBoard[] = await office.evaluate(
    async () => (await (await fetch("/api/office/board")).json()).people.find((p: { id: string }) => p.id === "ansa").visits,
  );
  const on = board.filter((v) => v.on);
  expect(on.length, "one clock").toBeLessThanOrEqual(1);
  for (const v of board.filter((v) => v.on || v.left)) {
    await page().goto(`${program.url}/field/visit/${v.id}`);
    const timer = page().locator(".dock").getByRole("timer");
    await expect(timer, `${v.id} is ${v.stage}`).toHaveText(v.on ? /\d:\d\d:\d\d/ : /^(\D* )?\d\d:\d\d$/);
  }
  await page().goto(`${program.url}/field/time`);
  await expect(page().locator("h1")).toBeVisible();
  const running = page().locator(".span-line, tr, li, .line").filter({ hasText: "running" });
  if (on.length) await expect(running.filter({ hasText: on[0].site }).first()).toBeVisible();
}

/** Every word is at the office, or still in its field on the phone. */
async function nothingLost() {
  await settled();
  const kept = await storedAs(page(), "ansa", "drafts", "outbox", "acknowledged", "shown");
  const lost = words.filter((w) => !kept.includes(`${w}"`) && !kept.includes(`${w} `));
  for (const w of lost) console.log(around(w));
  expect(lost).toEqual([]);
}

test(`a monkey with seed ${seed} for ${minutes} minutes`, async ({ browser }) => {
  await program.start();
  office = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await office.goto(program.url);
  await signIn(office, "mirin");
  await expect(office.getByText("To place")).toBeVisible();
  await plan();
  await phone.open();
  await signIn(page(), "ansa");
  await expect(page().getByText("You can lose signal now.")).toBeVisible({ timeout: 60_000 });
  const until = Date.now() + minutes * 60_000;
  try {
    for (let n = 1; Date.now() < until; n++) {
      await act();
      if (n % 40 === 0) {
        await agree();
        await nothingLost();
      }
    }
    await agree();
    await nothingLost();
  } catch (e) {
    console.log(done.slice(-60).join("\n"));
    throw e;
  }
  console.log(`${done.length} deeds, ${words.length} words`);
  await phone.remove();
  await program.remove();
});
