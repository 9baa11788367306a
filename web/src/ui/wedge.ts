import { useEffect, useRef } from "react";

/** Between two keys of a scanner there are a few milliseconds, half of the time at most these: a person types slower. */
const quick = 60;

/** After so many milliseconds nothing belongs to what was before. */
const over = 1500;

/** A code has at least as many characters. */
const least = 4;

/** What is typed into. */
const field = "input, textarea, select, [contenteditable]";

/** A key that was pressed, and when, in milliseconds. */
export interface Key {
  key: string;
  at: number;
}

/** Whether the last of some digits is their check digit, as trade item numbers have it (GS1, modulo 10). */
function checks(text: string): boolean {
  if (!/^(\d{8}|\d{12,14})$/.test(text)) return false;
  const sum = [...text].reverse().reduce((n, d, i) => n + Number(d) * (i % 2 ? 3 : 1), 0);
  return sum % 10 === 0;
}

/**
 * What a scanner said with these keys, up to the one that ends a code; nothing when a person typed them. A code is told by its prefix, or by
 * the speed of all of it: a machine that stands still for a moment delays single keys, and cuts nothing off. Where something was typed
 * shortly before, a code with a check digit is told apart by that.
 */
export function codeOf(keys: Key[], prefix = ""): string | undefined {
  const text = keys.map((k) => k.key).join("");
  if (prefix) {
    const begins = text.lastIndexOf(prefix);
    return begins < 0 ? undefined : text.slice(begins);
  }
  const gaps = keys.slice(1).map((k, i) => k.at - keys[i].at);
  const middle = [...gaps].sort((a, b) => a - b)[Math.floor(gaps.length / 2)];
  if (text.length < least || middle > quick) return undefined;
  if (checks(text)) return text;
  const after = gaps.flatMap((g, i) => (g > quick ? [text.slice(i + 1)] : [])).find(checks);
  return after ?? text;
}

/**
 * Hears a scanner that types like a keyboard: a text, then Enter or Tab. With a prefix, what begins with it is told wherever it is typed;
 * without, what comes quicker than a person types, and not into a field. Other typing is left alone; alone keeps it from being taken for a
 * shortcut.
 */
export function useWedge(onText: (text: string) => void, { prefix = "", alone = false } = {}) {
  const told = useRef(onText);
  told.current = onText;
  useEffect(() => {
    let keys: Key[] = [];
    const press = (e: KeyboardEvent) => {
      if (!prefix && (e.target as HTMLElement).closest?.(field)) return;
      if (alone) e.stopPropagation();
      const at = e.timeStamp; // when it was pressed, however late a busy page hears of it
      if (at - (keys.at(-1)?.at ?? at) > over) keys = [];
      if (e.key === "Enter" || e.key === "Tab") {
        const code = codeOf(keys, prefix);
        keys = [];
        if (code === undefined) return;
        e.preventDefault();
        told.current(code);
      } else if (e.key.length === 1) keys.push({ key: e.key, at });
    };
    addEventListener("keydown", press, true);
    return () => removeEventListener("keydown", press, true);
  }, [prefix, alone]);
}
