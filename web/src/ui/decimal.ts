/** Quantities, amounts and readings: decimal numbers as text, as entries hold them and people type them. They are never floats. */
import { Decimal as Light } from "decimal.js-light";

const Exact = Light.clone({ precision: 40, toExpNeg: -40, toExpPos: 40 }); // written out in full, as the core reads them
export type Decimal = InstanceType<typeof Exact>;

/** The number that a text of the program is, or that somebody typed where isNumber says so. */
export const decimal = (text: string | number): Decimal => new Exact(text);

/** What somebody typed, with a point for a comma, as the core reads it. What is no number stays what it is, and is refused as that. */
export const typedNumber = (text: string): string =>
  text
    .trim()
    .replace(",", ".")
    .replace(/^[−–]/, "-")
    .replace(/^(-?)\./, "$10.");

/** Whether a text is a number, as people type one. */
export const isNumber = (text: string): boolean => /^-?\d{1,15}(\.\d{1,15})?$/.test(typedNumber(text));

/** Whether a text is a quantity: a number that is not below none, with at most six places behind the point. */
export const isQuantity = (text: string): boolean => /^\d{1,9}(\.\d{1,6})?$/.test(typedNumber(text));

/** Whether a text is more than none of something. */
export const isPositive = (text: string): boolean => isQuantity(text) && decimal(typedNumber(text)).gt(0);

/** The sum of numbers; of none it is 0. */
export const sum = (texts: string[]): Decimal => texts.reduce((n, x) => n.plus(x), decimal(0));

export const least = (a: string, b: string): string => (decimal(a).lte(b) ? a : b);

/** What there is of each part, in the order the parts come. */
export function sumsByPart(lines: { part: string; quantity: string }[]): { part: string; quantity: string }[] {
  const parts = [...new Set(lines.map((l) => l.part))];
  return parts.map((part) => ({ part, quantity: sum(lines.filter((l) => l.part === part).map((l) => l.quantity)).toString() }));
}

/** A number with its sign, as a change is written. */
export const signed = (text: string): string => (text.startsWith("-") ? text.replace("-", "−") : `+${text}`);
