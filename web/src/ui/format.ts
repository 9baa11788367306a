/** Times, durations and quantities as people read them, on the company's clock. */
let zone: string | undefined;

export function setZone(name: string) {
  zone = name;
}

const cache = new Map<string, Intl.DateTimeFormat>();
function dates(options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = JSON.stringify(options) + zone;
  let f = cache.get(key);
  if (!f) {
    try {
      f = new Intl.DateTimeFormat("en-GB", { ...options, timeZone: zone });
    } catch {
      f = new Intl.DateTimeFormat("en-GB", options); // a zone this browser does not know: its own
    }
    cache.set(key, f);
  }
  return f;
}

type When = string | number | Date;

export const time = (t: When) => dates({ hour: "2-digit", minute: "2-digit" }).format(new Date(t));

/** How dates and times of day are written where they are typed: day, month, year, and 24 hours. */
export const dateFormat = "DD/MM/YYYY";
export const timeFormat = "HH:mm";

/** Dates of other years than this one say which. */
const yearOf = (t: When): Intl.DateTimeFormatOptions => (dateOf(t).slice(0, 4) === dateOf(Date.now()).slice(0, 4) ? {} : { year: "numeric" });
export const longDate = (t: When) => dates({ weekday: "long", day: "numeric", month: "long", ...yearOf(t) }).format(new Date(t));
export const monthName = (t: When) => dates({ month: "long", year: "numeric" }).format(new Date(t));
export const shortDate = (t: When) => dates({ weekday: "short", day: "numeric", month: "short", ...yearOf(t) }).format(new Date(t));
export const weekday = (t: When) => dates({ weekday: "short" }).format(new Date(t));
export const dayOfMonth = (t: When) => dates({ day: "numeric" }).format(new Date(t));

const isoDates = new Map<string, string>();

/** A date as 2026-03-10. Remembered by the quarter of an hour, since lists ask for the same ones again and again. */
export const isoDate = (t: When) => {
  const quarter = `${zone} ${Math.floor(new Date(t).getTime() / 900_000)}`; // no zone is off by less than a quarter of an hour
  let date = isoDates.get(quarter);
  if (!date) {
    if (isoDates.size > 5000) isoDates.clear();
    date = dateOf(t);
    isoDates.set(quarter, date);
  }
  return date;
};

const dateOf = (t: When) => {
  const p = Object.fromEntries(
    dates({ year: "numeric", month: "2-digit", day: "2-digit" })
      .formatToParts(new Date(t))
      .map((x) => [x.type, x.value]),
  );
  return `${p.year.padStart(4, "0")}-${p.month}-${p.day}`;
};

/** A time, with the day when it is not today. */
export const timeOrDay = (t: When, now: When = Date.now()) => (isoDate(t) === isoDate(now) ? time(t) : `${shortDate(t)} ${time(t)}`);

/** A time today, or else only the day: for where there is little room. */
export const dayOrTime = (t: When, now: When = Date.now()) => (isoDate(t) === isoDate(now) ? time(t) : shortDate(t));

/** Hours and minutes, as 1 h 05 or 42 min. */
export function duration(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, "0")}`;
}

/** A running clock, as 0:42:18. */
export function clock(seconds: number): string {
  const s = Math.max(0, Math.floor(seconds));
  const two = (n: number) => String(n).padStart(2, "0");
  return `${Math.floor(s / 3600)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}`;
}

/** How far a moment of a local date and time is from UTC is for the zone to say: finds the moment of 2026-03-10 14:00. */
export function momentOf(date: string, hm: string): Date {
  const wanted = Date.parse(`${date}T${hm}:00Z`);
  let guess = wanted;
  for (let i = 0; i < 2; i++) {
    const shown = Date.parse(`${isoDate(guess)}T${time(guess)}:00Z`);
    guess += wanted - shown;
  }
  return new Date(guess);
}

/** A date as 2026-03-10 in short words. */
export const dayText = (date: string) => (isDate(date) ? shortDate(momentOf(date, "12:00")) : date);

/** Whether a date reads as one, as 2026-03-10. */
export const isDate = (date: string | null | undefined): date is string =>
  !!date && /^\d{4}-\d\d-\d\d$/.test(date) && !Number.isNaN(Date.parse(`${date}T12:00:00Z`)) && new Date(`${date}T12:00:00Z`).toISOString().startsWith(date);

/** Whether the clock shows a time on a date: when clocks go forward, an hour does not exist. */
export const isTime = (date: string, hm: string) => time(momentOf(date, hm)) === hm && isoDate(momentOf(date, hm)) === date;

/** The date after one. */
export const nextDate = (date: string) => new Date(Date.parse(`${date}T12:00:00Z`) + 86_400_000).toISOString().slice(0, 10);

/** A size in bytes, kB, MB or GB. */
export function bytes(n: number): string {
  for (const [unit, size] of [
    ["GB", 1e9],
    ["MB", 1e6],
    ["kB", 1e3],
  ] as const) {
    if (n >= size) return `${(n / size).toFixed(n < 9.95 * size ? 1 : 0)} ${unit}`;
  }
  return `${n} B`;
}

/** A way in kilometres, as 8.4 km or 23 km. */
export const kilometres = (metres: number) => `${(metres / 1000).toFixed(metres < 9950 ? 1 : 0)} km`;

/** A moment as RFC 3339 on the company's clock, so that it falls on the company's date wherever it is read. */
export function moment(t: When): string {
  const at = new Date(t);
  const seconds = String(at.getUTCSeconds()).padStart(2, "0");
  const local = `${isoDate(at)}T${time(at)}:${seconds}`;
  const minutes = Math.round((Date.parse(`${local}Z`) - at.getTime()) / 60_000);
  const two = (n: number) => String(Math.floor(n)).padStart(2, "0");
  const sign = minutes < 0 ? "-" : "+";
  return `${local}.${String(at.getUTCMilliseconds()).padStart(3, "0")}${sign}${two(Math.abs(minutes) / 60)}:${two(Math.abs(minutes) % 60)}`;
}

/** An amount of money, as its currency is written; without one while that is not known. */
export const price = (amount: string, currency: string) => {
  if (!currency) return amount;
  try {
    return new Intl.NumberFormat("en-GB", { style: "currency", currency }).format(amount as `${number}`);
  } catch {
    return `${amount} ${currency}`;
  }
};

/** A quantity with its unit; pieces need none. */
export const quantity = (q: string | number, unit?: string) => (!unit || unit === "each" ? String(q) : `${q} ${unit}`);
