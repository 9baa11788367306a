/** A board of a large firm, made of a small one's: 60 people with 500 visits, at 500 places. */
import type { Page, Route } from "@playwright/test";

export const people = 60;
export const visits = 500;
const places = 500;
const noon = 12 * 3600;

/** A number below n for each call, the same in each run. */
function chance(seed: number) {
  let x = seed;
  return (n: number) => {
    x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
    return x % n;
  };
}

// biome-ignore lint/suspicious/noExplicitAny: what a server answers
type Json = any;

/** Makes an answer of the board large. */
function enlarged(board: Json): Json {
  const draw = chance(7);
  const from = Date.parse(board.plan.begin);
  const pattern = board.people[0];
  board.people = [];
  board.plan.lanes = [];
  board.ways = "large";
  for (let i = 0; i < people; i++) {
    const id = `p${i}`;
    board.people.push({ ...pattern, id, name: `Person ${i}`, short: `P. ${i}`, visits: [], helps: undefined });
    board.plan.lanes.push({ id, name: `P. ${i}`, start: draw(places), hours: [{ from: 8 * 3600, to: 16 * 3600 }], stops: [] });
  }
  for (let i = 0; i < visits; i++) {
    const begin = 7 * 3600 + Math.floor(i / people) * 3600 + draw(6) * 300;
    const start = new Date(from + begin * 1000).toISOString();
    const visit = { id: `b${i}`, number: `${i}`, site: `Site ${i}`, problem: "Quarterly service", stage: "sent", since: start, start, minutes: 45, flags: 0 };
    board.people[i % people].visits.push({
      ...visit,
      drive: { setOff: new Date(from + (begin - 900) * 1000).toISOString(), arrive: start, seconds: 900, metres: 9000 },
    });
    board.plan.lanes[i % people].stops.push({ id: visit.id, site: "", place: draw(places), length: 2700, from: 0, to: noon + draw(noon), always: true, begin });
  }
  board.plan.wants = board.unplaced.map((o: { id: string }) => ({ id: o.id, site: "", place: draw(places), length: 3600, from: 0, to: noon, always: true }));
  return board;
}

/** Has a page's boards be large ones. */
export async function enlarge(page: Page) {
  await page.route("**/api/office/board*", async (route: Route) => {
    const response = await route.fetch();
    await route.fulfill({ response, json: enlarged(await response.json()) });
  });
  await page.route("**/api/office/day.ways*", (route: Route) => {
    const draw = chance(9);
    const cells = new Uint16Array(places * places * 2);
    for (let i = 0; i < cells.length; i += 2) cells[i] = 120 + draw(3600);
    return route.fulfill({ body: Buffer.from(cells.buffer), contentType: "application/octet-stream" });
  });
}

/** How long the longest frames were while something was dragged over the lanes, in milliseconds. */
export async function dragged(page: Page): Promise<number[]> {
  const box = (await page.locator(".to-place [data-take]").first().boundingBox())!;
  await page.mouse.move(box.x + 40, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(600, 300, { steps: 3 });
  await page.evaluate(() => {
    const frames: number[] = [];
    Object.assign(globalThis, { frames });
    let last = performance.now();
    const each = (now: number) => {
      frames.push(now - last);
      last = now;
      requestAnimationFrame(each);
    };
    requestAnimationFrame(each);
  });
  for (let i = 0; i < 8; i++) await page.mouse.move(300 + (i % 2) * 600, 200 + i * 60, { steps: 12 });
  const frames = await page.evaluate(() => (globalThis as unknown as { frames: number[] }).frames.slice(2));
  await page.keyboard.press("Escape");
  await page.mouse.up();
  return frames;
}

/** How long fits take in a page's own core, each by itself, in milliseconds. */
export const asked = ([n, lanes]: [number, number]) => {
  const id = document.querySelector<HTMLElement>(".to-place [data-take]")?.dataset.take;
  const ask = (globalThis as unknown as { iterAskDay: (q: string) => string }).iterAskDay;
  return Array.from({ length: n }, (_, i) => {
    const began = performance.now();
    const fits = JSON.parse(ask(JSON.stringify({ id, lane: `p${i % lanes}`, begin: 28800 + (i % 90) * 300 })));
    if (fits.length !== 1) throw new Error("no fit");
    return performance.now() - began;
  });
};
