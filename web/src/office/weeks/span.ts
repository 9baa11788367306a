/** Which days a view of the plan shows: whole weeks, Monday first. */
export interface Span {
  from: string; // date
  days: number;
}

const day = 86_400_000;
const noon = (date: string) => new Date(`${date}T12:00:00Z`);
const dateOf = (t: number) => new Date(t).toISOString().slice(0, 10);

/** So many weeks, from the Monday of a date's. */
export function weekOf(date: string, weeks: number): Span {
  const back = (noon(date).getUTCDay() + 6) % 7;
  return { from: dateOf(noon(date).getTime() - back * day), days: 7 * weeks };
}

/** The weeks that a date's month lies in. */
export function monthOf(date: string): Span {
  const { from } = weekOf(`${date.slice(0, 7)}-01`, 1);
  const [year, month] = date.split("-").map(Number);
  const last = Date.UTC(year, month, 0, 12);
  return { from, days: Math.ceil((last - noon(from).getTime() + day) / (7 * day)) * 7 };
}

/** A date so many days, or months, on. */
export const daysOn = (date: string, days: number) => dateOf(noon(date).getTime() + days * day);

export function monthsOn(date: string, months: number): string {
  const [year, month] = date.split("-").map(Number);
  return dateOf(Date.UTC(year, month - 1 + months, 1, 12));
}
