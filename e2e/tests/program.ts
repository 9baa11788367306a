/** The real program, started and stopped as an operator would, each test with data of its own. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { randomInt } from "node:crypto";
import { cpSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type BrowserContext, test as base, chromium, expect, type Locator, type Page } from "@playwright/test";
import { chromium as launch, zone } from "../playwright.config.js";

/** A test that closes the windows it opened: one left open goes on asking a server that is gone, and takes its time from the tests after it. */
export const test = base.extend<{ closing: undefined }>({
  closing: [
    async ({ browser }, use) => {
      const before = browser.contexts();
      await use(undefined);
      await Promise.all(
        browser
          .contexts()
          .filter((c) => !before.includes(c))
          .map((c) => c.close()),
      );
    },
    { auto: true },
  ],
});

export const binary = join(import.meta.dirname, "../../bin/iter");
export const password = "pumps and pipes";

/** The date in the company's zone, so many days from today. */
export const dayFrom = (days: number) => new Date(Date.now() + days * 86_400_000).toLocaleDateString("en-CA", { timeZone: zone });

/** How far the company's clock is from Greenwich, as +02:00; zone has no summer time. */
const offset = () => {
  const parts = new Intl.DateTimeFormat("en", { timeZone: zone, timeZoneName: "longOffset" }).formatToParts();
  return parts.find((p) => p.type === "timeZoneName")?.value.replace("GMT", "") || "+00:00";
};

/** A moment on the company's clock. */
export const momentAt = (date: string, hm: string) => new Date(`${date}T${hm}:00${offset()}`);

/** A moment as the program's own screens write it, by the company's clock: the day that it says is the day that it is on. */
export function written(t: string): string {
  const [hours, minutes] = offset().slice(1).split(":").map(Number);
  const ahead = (hours * 60 + minutes) * (offset().startsWith("-") ? -60_000 : 60_000);
  return new Date(Date.parse(t) + ahead).toISOString().replace("Z", offset());
}

/** A port of the machine below those that the system hands out: one of many, so that two runs beside each other hardly want the same. */
export const freePort = () => 10_000 + randomInt(20_000);

/** Days of history. */
const usual = 3;

export class Program {
  readonly data = mkdtempSync(join(tmpdir(), "iter-e2e-"));
  private process: ChildProcess | undefined;
  readonly port = freePort();

  get url() {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts the demo, with some days of history; started again it keeps what it has. The usual days are those of the template, where there is one. */
  async start(history = usual, more: string[] = []) {
    const { TEMPLATE } = process.env;
    if (TEMPLATE && history === usual && readdirSync(this.data).length === 0) cpSync(TEMPLATE, this.data, { recursive: true });
    const args = ["--data", this.data, "--history", String(history), "--zone", zone, "--address", `127.0.0.1:${this.port}`, "--controllers=false", ...more];
    const started = spawn(binary, ["demo", "--keep", ...args], {
      stdio: ["ignore", "pipe", "inherit"],
    });
    this.process = started;
    await new Promise<void>((done, fail) => {
      started.stdout?.on("data", (chunk: Buffer) => chunk.toString().includes("Iter is at") && done());
      started.once("exit", (code) => fail(new Error(`the program ended with ${code}`)));
    });
  }

  /** Stops it; kill gives it no time to do anything. */
  async stop(signal: "SIGTERM" | "SIGKILL" = "SIGTERM") {
    const p = this.process;
    if (!p || p.exitCode !== null) return;
    const ended = new Promise((done) => p.once("exit", done));
    p.kill(signal);
    await ended;
  }

  /** Gives an account a new password, and says it. */
  newPassword(login: string) {
    return execFileSync(binary, ["password", "--data", this.data, "--login", login], { encoding: "utf8" }).trim().split(" ").at(-1)!;
  }

  /** Signs somebody of the office in, on one of its pages. */
  async office(page: Page, path: string, login = "mirin") {
    await page.goto(this.url);
    await signIn(page, login);
    await expect(page.getByRole("navigation", { name: "Office" })).toBeVisible();
    await go(page, path);
  }

  /** What the program says of its own log. Only while it is stopped. */
  verify() {
    return execFileSync(binary, ["verify", "--data", this.data], { encoding: "utf8" });
  }

  async remove() {
    await this.stop("SIGKILL");
    rmSync(this.data, { recursive: true, force: true });
  }
}

/** A phone whose browser can be closed and started again with what it stored. */
export class Phone {
  private readonly profile = mkdtempSync(join(tmpdir(), "iter-phone-"));
  context!: BrowserContext;
  page!: Page;
  constructor(private readonly url: string) {}

  async open(offline = false, url = this.url) {
    this.context = await chromium.launchPersistentContext(this.profile, {
      ...launch,
      viewport: { width: 390, height: 844 },
      hasTouch: true,
      isMobile: true,
      userAgent: "Mozilla/5.0 (Linux; Android 15) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0.0.0 Mobile Safari/537.36",
      locale: "en-GB",
      timezoneId: zone,
      geolocation: { latitude: 54.8123, longitude: -9.2145, accuracy: 12 },
      permissions: ["geolocation"],
    });
    await this.context.setOffline(offline);
    this.page = this.context.pages()[0] ?? (await this.context.newPage());
    await this.page.goto(url);
  }

  close() {
    return this.context.close();
  }

  /** Ends the browser as a phone does that needs its memory: nothing in it is told. */
  async kill() {
    const closed = this.context.waitForEvent("close");
    execFileSync("pkill", ["-KILL", "-f", this.profile]);
    await closed;
  }

  async remove() {
    await this.context?.close().catch(() => {});
    rmSync(this.profile, { recursive: true, force: true });
  }
}

/** Goes to a screen of the program that is open on a page, as a link does: loading all of it anew takes a processor a few seconds. */
export const go = (page: Page, path: string) =>
  page.evaluate((to) => {
    const state = { key: Math.random().toString(36), idx: (history.state?.idx ?? 0) + 1 }; // as the router notes it
    history.pushState(state, "", to);
    dispatchEvent(new PopStateEvent("popstate", { state }));
  }, path);

export async function signIn(page: Page, login: string, secret = password) {
  await page.getByLabel("Login").fill(login);
  await page.getByLabel("Password").fill(secret);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
}

/** Resolves when all that the app needs without signal is on the phone. */
export async function keptForOffline(page: Page) {
  await page.evaluate(() => navigator.serviceWorker.ready);
  const here = page.url();
  await page.goto(new URL("/field", here).href);
  await expect(page.getByText("You can lose signal now.")).toBeVisible({ timeout: 60_000 });
  if (page.url() !== here) await page.goto(here);
}

/** What a person's device has stored, of some of its tables, as JSON. */
export const storedAs = (page: Page, person: string, ...tables: string[]) =>
  page.evaluate(
    async ({ name, tables }) => {
      const answer = <T>(q: IDBRequest<T>) =>
        new Promise<T>((done, fail) => {
          q.onsuccess = () => done(q.result);
          q.onerror = () => fail(q.error);
        });
      const db = await answer(indexedDB.open(name));
      const all = await Promise.all(tables.map((t) => answer(db.transaction(t).objectStore(t).getAll())));
      db.close();
      return JSON.stringify(all);
    },
    { name: `iter-${person}`, tables },
  );

let commands = 0;

/** Records an office command as whoever is signed in on a page. */
export async function command(page: Page, kind: string, subject: { type: string; id: string }, what: object, base?: object) {
  const body = JSON.parse(JSON.stringify(what), (_, v) => (typeof v === "string" && /^\d{4}-\d\d-\d\dT[\d:.]+Z$/.test(v) ? written(v) : v));
  const id = `01ZZZZZZZZ${String(Date.now()).padStart(13, "0")}${String(++commands).padStart(3, "0")}`;
  const status = await page.evaluate(
    async (c) => {
      const batch = { entries: [c], seen: Number.MAX_SAFE_INTEGER };
      const r = await fetch("/api/office/entries", { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(batch) });
      return r.ok ? "" : `${r.status} ${await r.text()}`;
    },
    { id, kind, subject, body, base },
  );
  expect(status, kind).toBe("");
}

/**
 * Picks from a list that opens under a field: what is named, or what stands at a place of it. It is opened by the keyboard: a list that opens over the
 * field takes what lies under a mouse that a busy machine holds down for long.
 */
export async function choose(field: Locator, name = "", at = 0) {
  await field.press("Enter");
  await (name ? field.page().getByRole("option", { name, exact: true }) : field.page().getByRole("option").nth(at)).click();
}

/** Types a date, 2026-03-10, into a field for one, day first as the company writes it. */
export async function typeDate(field: Locator, date: string) {
  await field.getByRole("spinbutton", { name: "Day" }).click();
  await field.page().keyboard.type(date.split("-").reverse().join(""));
}

/** Types a time of day, 14:05, into a field for one. */
export async function typeTime(field: Locator, hm: string) {
  await field.getByRole("spinbutton", { name: "Hours" }).click();
  await field.page().keyboard.type(hm.replace(":", ""));
}

/** Closes what asks for a signature after a visit, with none. */
export const leaveUnsigned = (page: Page) =>
  page
    .getByRole("dialog")
    .filter({ has: page.locator(".sign-pad") })
    .getByRole("button", { name: "Cancel" })
    .click();

/** Draws a signature on the pad. */
export async function draw(page: Page) {
  const box = (await page.locator(".sign-pad").boundingBox())!;
  await page.mouse.move(box.x + 30, box.y + box.height * 0.6);
  await page.mouse.down();
  for (let i = 1; i <= 24; i++) await page.mouse.move(box.x + 30 + i * 9, box.y + box.height * (0.5 + 0.3 * Math.sin(i / 2)));
  await page.mouse.up();
}

/** Opens the visit under way, or one that was finished, and gives its id: both take notes and photos. */
export async function openWork(page: Page, which = ".stop.now a, .stop.done a"): Promise<string> {
  await page.locator(which).first().click();
  await expect(page.getByLabel("Write a note")).toBeVisible();
  return page.url().split("/").pop() ?? "";
}

export async function write(page: Page, text: string) {
  await page.getByLabel("Write a note").fill(text);
  await page.getByRole("button", { name: "Save note" }).click();
  await expect(page.getByLabel("Write a note")).toHaveValue(""); // what is typed is in the section as well, and goes once it is recorded
  await expect(page.locator("#notes")).toContainText(text);
}

/** Photos that do not pack well, as real ones; the first is larger than a phone keeps them. */
export async function photos(page: Page, count: number) {
  const all = await page.evaluate(async (count) => {
    const out: string[] = [];
    for (let i = 0; i < count; i++) {
      const canvas = document.createElement("canvas");
      [canvas.width, canvas.height] = i === 0 ? [3200, 1800] : [1000, 750];
      const ink = canvas.getContext("2d")!;
      const image = ink.createImageData(canvas.width, canvas.height);
      const noise = crypto.getRandomValues(new Uint8Array(65_536));
      for (let p = 0; p < image.data.length; p++) image.data[p] = p % 4 === 3 ? 255 : (noise[p & 65_535] ^ (p >> 16)) & 255;
      ink.putImageData(image, 0, 0);
      out.push(canvas.toDataURL("image/jpeg", i === 0 ? 0.3 : 0.85));
    }
    return out;
  }, count);
  await page.close();
  return all.map((url, i) => ({ name: `photo-${i + 1}.jpg`, mimeType: "image/jpeg", buffer: Buffer.from(url.slice(url.indexOf(",") + 1), "base64") }));
}

/** A phone whose browser is a process of its own, to be killed. */
export class KillablePhone {
  private readonly profile = mkdtempSync(join(tmpdir(), "iter-kill-"));
  private process: ChildProcess | undefined;
  constructor(private readonly url: string) {}

  async open(url = this.url): Promise<Page> {
    const started = spawn(
      launch.executablePath,
      [...launch.args, "--headless=new", "--remote-debugging-port=0", `--user-data-dir=${this.profile}`, "--window-size=390,844", "about:blank"],
      {
        stdio: ["ignore", "ignore", "pipe"],
        detached: true, // a group of its own, killed as one
      },
    );
    this.process = started;
    const address = await new Promise<string>((done, fail) => {
      let said = "";
      started.stderr?.on("data", (chunk: Buffer) => {
        said += chunk.toString();
        const found = /ws:\/\/\S+/.exec(said);
        if (found) done(found[0]);
      });
      started.once("exit", () => fail(new Error(said)));
    });
    const browser = await chromium.connectOverCDP(address);
    const page = browser.contexts()[0].pages()[0] ?? (await browser.contexts()[0].newPage());
    await page.goto(url);
    return page;
  }

  async kill() {
    const p = this.process;
    if (!p?.pid || p.exitCode !== null) return;
    const ended = new Promise((done) => p.once("exit", done));
    process.kill(-p.pid, "SIGKILL");
    await ended;
  }

  async remove() {
    await this.kill();
    rmSync(this.profile, { recursive: true, force: true, maxRetries: 5 });
  }
}

/** Accepts the visit on the screen, travels and arrives. Whoever is at the site already has no way to go. */
export async function arrive(page: Page) {
  const dock = page.locator(".dock");
  await dock.getByRole("button", { name: "Accept" }).click();
  await dock
    .getByRole("button", { name: "Set off", exact: true })
    .or(dock.getByRole("button", { name: "Start work" }))
    .click();
  await expect(dock.getByText(/^(Travelling|On site)/)).toBeVisible();
  if (await dock.getByText("Travelling").isVisible()) await dock.getByRole("button", { name: "Arrived" }).click();
  await expect(dock.getByText("On site")).toBeVisible();
}

/** Opens a work order at the first site of the water board. */
export async function openOrder(page: Page, id: string, problem: string, more: object = {}) {
  const [customer] = await page.evaluate(async () => (await fetch("/api/office/customers?q=water board")).json());
  const site = customer.sites[0].id;
  await command(page, "work.opened", { type: "workorder", id }, { customer: customer.id, site, problem, priority: "normal", minutes: 60, ...more });
}
