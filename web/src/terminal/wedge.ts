import { useEffect, useRef } from "react";

/** What every badge says first. */
const prefix = "ITER-B/";

/** Between two keys of a scanner there are a few milliseconds; a busy tablet may hear them later. */
const pause = 1000;

/** Hears a badge scanner that types like a keyboard: a badge's text, then Enter. Other typing is left alone. */
export function useWedge(onText: (text: string) => void) {
  const told = useRef(onText);
  told.current = onText;
  useEffect(() => {
    let text = "";
    let last = 0;
    const press = (e: KeyboardEvent) => {
      const now = performance.now();
      if (now - last > pause) text = "";
      last = now;
      if (e.key === "Enter") {
        const begins = text.lastIndexOf(prefix);
        if (begins >= 0) {
          e.preventDefault();
          told.current(text.slice(begins));
        }
        text = "";
      } else if (e.key.length === 1) text += e.key;
    };
    addEventListener("keydown", press, true);
    return () => removeEventListener("keydown", press, true);
  }, []);
}
