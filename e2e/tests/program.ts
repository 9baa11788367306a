/** The real program, started and stopped as an operator would, each test with data of its own. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type BrowserContext, chromium, type Page } from "@playwright/test";
import { chromium as launch } from "../playwright.config.js";

export const binary = join(import.meta.dirname, "../../bin/iter");
export const password = "pumps and pipes";

export class Program {
  readonly data = mkdtempSync(join(tmpdir(), "iter-e2e-"));
  private process: ChildProcess | undefined;
  constructor(readonly port: number) {}

  get url() {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts the demo, with little history; started again it keeps what it has. */
  async start() {
    const started = spawn(binary, ["demo", "--keep", "--data", this.data, "--history", "3", "--address", `127.0.0.1:${this.port}`], {
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
      timezoneId: "Europe/Dublin",
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

  async remove() {
    await this.context?.close().catch(() => {});
    rmSync(this.profile, { recursive: true, force: true });
  }
}

export async function signIn(page: Page, login: string) {
  await page.getByLabel("Login").fill(login);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
}

/** Draws a signature on the pad. */
export async function draw(page: Page) {
  const box = (await page.locator(".sign-pad").boundingBox())!;
  await page.mouse.move(box.x + 30, box.y + box.height * 0.6);
  await page.mouse.down();
  for (let i = 1; i <= 24; i++) await page.mouse.move(box.x + 30 + i * 9, box.y + box.height * (0.5 + 0.3 * Math.sin(i / 2)));
  await page.mouse.up();
}
