/** The device's side on a browser slowed four times: each figure next to what bounds it, measured in the same run. */
import { mkdirSync, readdirSync, statSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { expect, type Page, test } from "@playwright/test";
import { Phone, Program, photos, signIn } from "../tests/program.js";
import { asked, dragged, enlarge, people, visits } from "./bigboard.js";

const program = new Program();
const phone = new Phone(program.url);
const dist = join(import.meta.dirname, "../../cmd/iter/dist/assets");
const slow = 4;
const taps = 60;
const starts = 7;

/** Where the figures that have a limit go, for the command tools/figures. */
const out = process.env.FIGURES ?? join(import.meta.dirname, "../.tmp/figures.json");
const figures: { name: string; value: number; unit: string; limit: number; ratio: number }[] = [];

test.beforeAll(() => program.start());
test.afterAll(async () => {
  mkdirSync(dirname(out), { recursive: true });
  writeFileSync(out, figures.map((f) => `${JSON.stringify(f)}\n`).join(""));
  await phone.remove();
  await program.remove();
});

const at = (sorted: number[], share: number) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))];
const rank = (x: number[]) => [...x].sort((a, b) => a - b);
const ms = (x: number) => `${x.toFixed(1)} ms`.padStart(10);
const kb = (n: number) => `${(n / 1024).toFixed(0)} KB`.padStart(10);

async function throttle(page: Page, rate: number) {
  const cdp = await page.context().newCDPSession(page);
  await cdp.send("Emulation.setCPUThrottlingRate", { rate });
}

/** A little work that is the same in each run, so often: what else takes long is compared with it. */
const yardstick = (n: number) => {
  const list = Array.from({ length: 400 }, (_, i) => ({ id: `line ${i}`, at: new Date(i * 1e9).toISOString(), text: "x".repeat(i % 80), list: [i, i / 7] }));
  return Array.from({ length: n }, () => {
    const began = performance.now();
    for (let i = 0; i < 5; i++) JSON.parse(JSON.stringify(list));
    return performance.now() - began;
  });
};

/** Writes of the size of an entry, straight to IndexedDB, each in a transaction of its own that is on the disk when it ends. */
const bareWrites = (n: number) =>
  new Promise<number[]>((done) => {
    const open = indexedDB.open("bare", 1);
    open.onupgradeneeded = () => open.result.createObjectStore("x", { keyPath: "id" });
    open.onsuccess = async () => {
      const out: number[] = [];
      for (let i = 0; i < n; i++) {
        const began = performance.now();
        await new Promise<void>((written) => {
          const tx = open.result.transaction("x", "readwrite", { durability: "strict" });
          tx.objectStore("x").put({ id: `${i}`, text: "x".repeat(400) });
          tx.oncomplete = () => written();
        });
        out.push(performance.now() - began);
      }
      done(out);
    };
  });

/** Taps Yes and No of a question so often, each once the screen shows the one before and has come to rest: what a tool looks for meanwhile takes longer than a tap. */
const tapInTurn = async (group: Element, n: number) => {
  const rest = async () => {
    for (let idle = 0; idle < 3; ) {
      const deadline = await new Promise<IdleDeadline>((done) => requestIdleCallback(done));
      idle = deadline.timeRemaining() > 5 ? idle + 1 : 0;
    }
  };
  for (let i = 0; i < n; i++) {
    const button = [...group.querySelectorAll("button")].find((b) => b.textContent === (i % 2 ? "Yes" : "No"))!;
    if (button.getAttribute("aria-pressed") === "true") continue;
    const pressed = new Promise<void>((done) => {
      const look = new MutationObserver(() => {
        if (button.getAttribute("aria-pressed") !== "true") return;
        look.disconnect();
        done();
      });
      look.observe(button, { attributes: true });
    });
    button.click();
    await pressed;
    await rest();
  }
};

const questions = 300;
const formulas = 100;

/** A long sheet: numbers, formulas on numbers and on formulas before them, and questions that show on answers. */
function longSheet() {
  const list: object[] = [];
  for (let i = 0; i < questions; i++) {
    const name = (n: number) => ({ op: "name", name: `q${n}` });
    const showIf = i % 5 === 4 ? { tests: [{ question: `q${i - 2}`, is: "answered" }] } : undefined;
    if (i % 3 === 2) {
      const program = {
        op: "+",
        args: [
          { op: "*", args: [name(i - 1), { op: "number", num: "1.25" }] },
          { op: "??", args: [name(Math.max(0, i - 3)), { op: "number", num: "0" }] },
        ],
      };
      list.push({ id: `q${i}`, kind: "computed", text: `Result ${i}`, places: 2, formula: `q${i - 1} * 1.25 + (q${i - 3} ?? 0)`, program, showIf });
    } else {
      list.push({ id: `q${i}`, kind: "number", text: `Value number ${i} of the long sheet`, unit: "", required: i % 2 === 0, showIf });
    }
  }
  const sections = Array.from({ length: 10 }, (_, n) => ({ title: `Part ${n + 1}`, questions: list.slice(n * 30, n * 30 + 30) }));
  return { id: "long", version: 1, title: "Long", sections };
}

/** Answers one question after another, and times what the screen waits for: asking the core anew and reading its answer. */
const refill = ([sheet, rounds]: [object, number]) => {
  const at = new Date().toISOString();
  const answers: Record<string, object> = {};
  for (let i = 0; i < 300; i++) if (i % 3 !== 2) answers[`q${i}`] = { value: String(i) };
  const visit = { order: "w", technician: "ansa", start: at, minutes: 60, stage: "on_site", since: at, answers: { "long@1": answers } };
  const around = {
    order: { number: "1", customer: "c", site: "s", problem: "p", priority: "soon", minutes: 60, openedAt: at, openedBy: "m" },
    customer: { name: "C", contact: {} },
    site: { customer: "c", name: "S", contact: {} },
    assets: {},
    told: [],
  };
  const ask = (q: object) => JSON.parse(globalThis.iterCore!("fill", JSON.stringify(q)));
  const first = ask({ ref: "long@1", as: 1, sheet, visit, around });
  const out: number[] = [];
  for (let i = 0; i < rounds; i++) {
    const changed = { [`q${(i * 3) % 300}`]: { value: String(i + 0.5) } };
    const began = performance.now();
    ask({ ref: "long@1", as: i + 2, since: i + 1, changed });
    out.push(performance.now() - began);
  }
  return { out, lines: first.state.lines.length as number, answered: first.state.answered as number };
};

const stopsOfADay = 10;

/** The order of a day's stops with the least driving, some of them promised, asked of the core so often. */
const reorder = ([n, rounds]: [number, number]) => {
  const ask = (q: object) => JSON.parse(globalThis.iterCore!("order", JSON.stringify(q)));
  const now = Date.UTC(2026, 2, 10, 6);
  const out: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const part = (i: number, k: number) => ((i * 37 + round * 11 + k) % 97) / 97;
    const hour = (h: number) => new Date(now + h * 3_600_000).toISOString();
    const stops = Array.from({ length: n }, (_, i) => ({
      id: `s${i}`,
      visit: {
        stage: "accepted",
        start: hour(2),
        minutes: 20 + ((i * 13) % 40),
        plannedAt: hour(0),
        sentAt: hour(0),
        since: hour(0),
        order: "W",
        technician: "p",
      },
      order: i % 2 ? { promiseFrom: hour(2 + part(i, 5) * 6), promiseTo: hour(3 + part(i, 5) * 6) } : {},
      site: { lat: 54.7 + part(i, 1) * 0.25, lon: -9.35 + part(i, 2) * 0.3 },
    }));
    const began = performance.now();
    const answer = ask({ stops, order: [], start: { lat: 54.8, lon: -9.2 }, now, zone: { name: "UTC", shifts: [] } });
    out.push(performance.now() - began);
    if (answer.ids?.length !== n) throw new Error(JSON.stringify(answer));
  }
  return out;
};

const catalogue = 20_000;
const kinds = [
  "Seal",
  "Bearing",
  "Impeller",
  "Valve",
  "Gasket",
  "Coupling",
  "Hose",
  "Clamp",
  "Sensor",
  "Relay",
  "Fuse",
  "Lamp",
  "Filter",
  "Nozzle",
  "Shaft",
  "Sleeve",
];
const stuff = ["EPDM", "Viton", "steel", "bronze", "ceramic", "carbon", "nylon", "brass", "copper", "graphite", "rubber", "silicone"];
const makers = ["Aldane", "Thessal", "Corrow", "Maddow", "Brask", "Orrin", "Yell", "Lumen", "Tarn", "Wick"];

/** A catalogue as a firm has it that buys from ten makers. */
function manyParts(): string {
  const lines = Array.from({ length: catalogue }, (_, i) => {
    const kind = kinds[i % kinds.length];
    const name = `${kind} ${stuff[Math.floor(i / 16) % stuff.length]} ${makers[Math.floor(i / 192) % makers.length]} ${8 + ((i * 13) % 300)} mm`;
    return `${kind.slice(0, 2).toUpperCase()}-${100_000 + i},${name},${kind},each,${(i % 90) + 1}.50,${5_000_000_000 + i}`;
  });
  return `number,name,category,unit,price,codes\n${lines.join("\n")}\n`;
}

test("figures", async () => {
  await phone.open();
  await signIn(phone.page, "ansa");
  await expect(phone.page.getByText("All at office")).toBeVisible();
  await phone.page.evaluate(() => navigator.serviceWorker.ready);
  await phone.page.locator(".stop.now a, .stop.done a").last().click();
  const group = phone.page.getByRole("group", { name: /Any leaks/ });
  await expect(group).toBeVisible();

  await throttle(phone.page, slow);
  await group.evaluate(tapInTurn, taps);
  const recorded = rank(await phone.page.evaluate(() => performance.getEntriesByName("iter.record").map((e) => e.duration)));
  const bare = rank(await phone.page.evaluate(bareWrites, taps));
  const yard = at(rank(await phone.page.evaluate(yardstick, taps)), 0.5);
  const filled = await phone.page.evaluate(refill, [longSheet(), taps] as [object, number]);
  expect(filled.lines).toBe(questions);
  expect(filled.answered).toBe(questions - formulas);
  const refilled = rank(filled.out);
  const ordered = rank(await phone.page.evaluate(reorder, [stopsOfADay, 21] as [number, number]));
  await throttle(phone.page, 1);
  await phone.close();

  const shown: number[] = [];
  let scripts: string[] = [];
  for (let i = 0; i < starts; i++) {
    await phone.open(true, "about:blank");
    await throttle(phone.page, slow);
    await phone.page.goto(`${program.url}/field`);
    await phone.page.locator(".stop").first().waitFor();
    shown.push(await phone.page.evaluate(() => performance.getEntriesByName("iter.route")[0].startTime));
    scripts = await phone.page.evaluate(() => performance.getEntriesByType("resource").map((r) => r.name));
    await phone.close();
  }
  const files = readdirSync(dist);
  const packed = (name: string) => statSync(join(dist, files.includes(`${name}.gz`) ? `${name}.gz` : name)).size; // small files are sent as they are
  const start = scripts.filter((s) => s.endsWith(".js")).map((s) => s.split("/").pop()!);
  const core = files.find((f) => f.startsWith("core") && f.endsWith(".wasm"))!;
  const times = at(recorded, 0.5) / at(bare, 0.5);
  const more = at(recorded, 0.95) - at(bare, 0.95);
  const route = at(rank(shown), 0.5);
  const [javaScript, wasm] = [start.reduce((n, f) => n + packed(f), 0) / 1024, packed(core) / 1024];
  figures.push(
    { name: "a tap recorded, median, to a bare write", value: times, unit: "times", limit: 5, ratio: times },
    { name: "a tap recorded, 95th percentile, more than a bare write", value: more, unit: "ms", limit: 30, ratio: at(recorded, 0.95) / at(bare, 0.95) },
    {
      name: `a sheet of ${questions} questions after an answer, 95th percentile`,
      value: at(refilled, 0.95),
      unit: "ms",
      limit: 16,
      ratio: at(refilled, 0.95) / yard,
    },
    { name: `the order of ${stopsOfADay} stops, 95th percentile`, value: at(ordered, 0.95), unit: "ms", limit: 100, ratio: at(ordered, 0.95) / yard },
    { name: "cold offline start to the route", value: route, unit: "ms", limit: 1500, ratio: route / yard },
    { name: "start JavaScript of the field, gzip", value: javaScript, unit: "KB", limit: 350, ratio: javaScript },
    { name: "core, gzip", value: wasm, unit: "KB", limit: 2048, ratio: wasm },
  );
  console.log(`
a tap recorded, 95th percentile, CPU / ${slow}   ${ms(at(recorded, 0.95))}   (bare IndexedDB write ${at(bare, 0.95).toFixed(1)} ms; limit 30 ms more)
a tap recorded, median                     ${ms(at(recorded, 0.5))}   (bare IndexedDB write ${at(bare, 0.5).toFixed(1)} ms; ${times.toFixed(1)} times, limit 5)
a sheet of ${questions} questions with ${formulas} formulas after an answer, CPU / ${slow}: median ${at(refilled, 0.5).toFixed(1)} ms, 95th percentile ${at(refilled, 0.95).toFixed(1)} ms   (limit 16 ms)
the order of ${stopsOfADay} stops with the least driving, CPU / ${slow}: median ${at(ordered, 0.5).toFixed(1)} ms, 95th percentile ${at(ordered, 0.95).toFixed(1)} ms   (limit 100 ms)
cold offline start to the route, CPU / ${slow}   ${ms(route)}   (limit 1500 ms; median of ${starts})
start JavaScript of the field, gzip        ${kb(javaScript * 1024)}   (limit 350 KB)
core, gzip                                 ${kb(wasm * 1024)}   (limit 2048 KB)`);
  expect(recorded.length).toBeGreaterThan(taps / 2);
});

test("a catalogue of 20,000 parts", async ({ browser }) => {
  const office = await browser.newPage();
  await office.goto(program.url);
  await signIn(office, "petrok");
  await expect(office.getByText("To place")).toBeVisible();
  const read = await office.evaluate(async (file) => (await fetch("/api/office/stores/import/parts.csv", { method: "POST", body: file })).json(), manyParts());
  expect(read.created).toBe(catalogue);
  await office.close();
  const own = new Phone(program.url);
  await own.open();
  await signIn(own.page, "dilys");
  await expect(own.page.getByText("All at office")).toBeVisible({ timeout: 120_000 });
  await own.page.locator(".stop.now a, .stop.done a").last().click();
  await own.page.getByRole("button", { name: "Find a part" }).click();
  const field = own.page.getByLabel("Part name or number");
  await field.fill("119999"); // the last of them
  await expect(own.page.getByRole("dialog").locator(".choice")).not.toHaveCount(0, { timeout: 60_000 });
  await own.page.context().setOffline(true);
  await throttle(own.page, slow);
  await own.page.evaluate(() => performance.clearMeasures("iter.search"));
  for (const words of ["viton seal 108", "mecanical", "brask inpeller", "104711", "carbn slieve thessal", "relay ylel copper"]) {
    await field.fill("");
    await field.pressSequentially(words);
  }
  const yard = at(rank(await own.page.evaluate(yardstick, taps)), 0.5);
  const searched = rank(await own.page.evaluate(() => performance.getEntriesByName("iter.search").map((e) => e.duration)));
  figures.push({
    name: `a search in ${catalogue} parts, 95th percentile`,
    value: at(searched, 0.95),
    unit: "ms",
    limit: 50,
    ratio: at(searched, 0.95) / yard,
  });
  console.log(`
a search in ${catalogue} parts offline, a letter at a time, CPU / ${slow}: median ${at(searched, 0.5).toFixed(1)} ms, 95th percentile ${at(searched, 0.95).toFixed(1)} ms   (limit 50 ms)`);
  expect(searched.length).toBeGreaterThan(60);
  await throttle(own.page, 1);
  await own.remove();
});

const many = 40;

/** Prints the device's last report on the page itself, which is slowed; the app prints beside it, in a worker that the debugger does not slow. */
const reprint = async (paper: string) => {
  const db = await new Promise<IDBDatabase>((done) => {
    const r = indexedDB.open("iter-dilys");
    r.onsuccess = () => done(r.result);
  });
  const all = <T>(store: string) =>
    new Promise<T[]>((done) => {
      const r = db.transaction(store).objectStore(store).getAll();
      r.onsuccess = () => done(r.result);
    });
  const doc = (await all<{ type: string; body: { report: { photos: { hash: string }[]; firm: { logo?: { hash: string } } } } }>("shown")).findLast(
    (d) => d.type === "report",
  )!;
  const wanted = [doc.body.report.firm.logo, ...doc.body.report.photos].flatMap((p) => (p ? [p.hash] : []));
  const files: Record<string, Uint8Array> = {};
  for (const f of await all<{ hash: string; blob: Blob }>("files")) if (wanted.includes(f.hash)) files[f.hash] = new Uint8Array(await f.blob.arrayBuffer());
  const go = new Go();
  const { instance } = await WebAssembly.instantiateStreaming(fetch(paper), go.importObject);
  void go.run(instance);
  // As the worker does before somebody waits for it: the code is compiled by printing the words alone.
  globalThis.iterPaper!(JSON.stringify({ ...doc.body.report, photos: [], firm: { ...doc.body.report.firm, logo: undefined } }), {});
  const times: number[] = [];
  let size = 0;
  for (let i = 0; i < 5; i++) {
    const began = performance.now();
    const pdf = globalThis.iterPaper!(JSON.stringify(doc.body.report), files) as Uint8Array;
    times.push(performance.now() - began);
    size = pdf.length;
  }
  return { first: times[0], times, size, photos: doc.body.report.photos.length };
};

test("a report of 40 photos", async ({ browser }) => {
  const own = new Phone(program.url);
  await own.open();
  const { page } = own;
  await signIn(page, "dilys");
  await expect(page.getByText("All at office")).toBeVisible({ timeout: 120_000 });
  await page.evaluate(() => navigator.serviceWorker.ready);
  await page.waitForTimeout(4000); // the rest of the app is stored
  await page.locator(".stop.done a").first().click();
  await expect(page.locator("#photos")).toBeVisible();
  await page.context().setOffline(true);
  const before = await page.locator("#photos .photo").count();
  const roll = await photos(await (await browser.newContext()).newPage(), many - before);
  await page.getByLabel("Pick files").setInputFiles(roll);
  await expect(page.locator("#photos .photo")).toHaveCount(many, { timeout: 300_000 });
  await throttle(page, slow);
  await page
    .locator("#report")
    .getByRole("button", { name: /Make (a report|it anew)/ })
    .click();
  await expect(page.getByText(`${many} of ${many} photos`)).toBeVisible();
  await page.waitForTimeout(3000); // somebody chooses
  await page.getByRole("button", { name: "Make it", exact: true }).click();
  await expect(page.getByRole("dialog")).toHaveCount(0, { timeout: 60_000 });
  const whole = await page.evaluate(() => performance.getEntriesByName("iter.report")[0].duration);
  const paper = readdirSync(dist).find((f) => f.startsWith("paper") && f.endsWith(".wasm"))!;
  const printed = await page.evaluate(reprint, `/assets/${paper}`);
  const yard = at(rank(await page.evaluate(yardstick, taps)), 0.5);
  figures.push({ name: `a report of ${many} photos`, value: whole, unit: "ms", limit: 2000, ratio: whole / yard });
  console.log(`
a report of ${printed.photos} photos, from the tap to the paper that is kept, offline, CPU / ${slow}: ${whole.toFixed(0)} ms   (limit 2000 ms)
   of it printing, which a worker does and the debugger does not slow; on the slowed page itself: first ${printed.first.toFixed(0)} ms, median of 5 ${at(rank(printed.times), 0.5).toFixed(0)} ms; ${(printed.size / (1 << 20)).toFixed(1)} MB (limit 10 MB)
   printer, gzip ${kb(statSync(join(dist, `${paper}.gz`)).size)}`);
  expect(printed.photos).toBeGreaterThan(many - 5);
  expect(printed.size).toBeLessThan(10 << 20);
  await throttle(page, 1);
  await own.remove();
});

declare global {
  var Go: new () => { importObject: WebAssembly.Imports; run(instance: WebAssembly.Instance): Promise<void> };
  var iterPaper: ((report: string, files: Record<string, Uint8Array>) => Uint8Array | string) | undefined;
}

test("a board of 60 people and 500 visits", async ({ browser }) => {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(program.url);
  await signIn(page, "mirin");
  await expect(page.getByText("To place")).toBeVisible();
  await enlarge(page);
  await page.goto(`${program.url}/office`);
  await expect(page.locator(".lane")).toHaveCount(people);
  await expect(page.locator(".lane-list li")).toHaveCount(visits);
  await page.locator(".to-place [data-take]").first().click();
  await expect(page.locator(".fits button")).toHaveCount(5);
  await page.keyboard.press("Escape");
  await throttle(page, slow);
  const yard = at(rank(await page.evaluate(yardstick, taps)), 0.5);
  const fits = rank(await page.evaluate(asked, [400, people] as [number, number]));
  const frames = rank(await dragged(page));
  figures.push(
    { name: "a fit in the dispatcher's browser, 95th percentile", value: at(fits, 0.95), unit: "ms", limit: 5, ratio: at(fits, 0.95) / yard },
    { name: "the longest frame of a drag over 500 visits", value: at(frames, 1), unit: "ms", limit: 50, ratio: at(frames, 1) / yard },
  );
  console.log(`
a fit in the dispatcher's browser, CPU / ${slow}: median ${at(fits, 0.5).toFixed(2)} ms, 95th percentile ${at(fits, 0.95).toFixed(2)} ms   (limit 5 ms)
frames of a drag over ${visits} visits, CPU / ${slow}: median ${at(frames, 0.5).toFixed(1)} ms, 95th percentile ${at(frames, 0.95).toFixed(1)} ms, longest ${at(frames, 1).toFixed(1)} ms of ${frames.length}   (limit 50 ms)`);
  await page.context().close();
});
