import { useEffect, useRef } from "react";

/** Between two keys of a scanner there are a few milliseconds; a busy tablet may hear them later. A person types slower than a quick one. */
const busy = 1000;
const quick = 60;

/** A code has at least as many characters. */
const least = 4;

/** What is typed into. */
const field = "input, textarea, select, [contenteditable]";

/**
 * Hears a scanner that types like a keyboard: a text, then Enter. With a prefix, what begins with it is told wherever it is typed; without,
 * what comes quicker than a person types, and not into a field. Other typing is left alone; alone keeps it from being taken for a shortcut.
 */
export function useWedge(onText: (text: string) => void, { prefix = "", alone = false } = {}) {
  const told = useRef(onText);
  told.current = onText;
  useEffect(() => {
    let text = "";
    let last = 0;
    const press = (e: KeyboardEvent) => {
      if (!prefix && (e.target as HTMLElement).closest?.(field)) return;
      if (alone) e.stopPropagation();
      const now = e.timeStamp; // when it was pressed, however late a busy page hears of it
      if (now - last > (prefix ? busy : quick)) text = "";
      last = now;
      if (e.key === "Enter") {
        const begins = text.lastIndexOf(prefix);
        if (prefix ? begins >= 0 : text.length >= least) {
          e.preventDefault();
          told.current(prefix ? text.slice(begins) : text);
        }
        text = "";
      } else if (e.key.length === 1) text += e.key;
    };
    addEventListener("keydown", press, true);
    return () => removeEventListener("keydown", press, true);
  }, [prefix, alone]);
}
