import { useEffect, useRef } from "react";

/** Between two keys of a scanner there are a few milliseconds; between two of a person, many more. */
const pause = 60;

/** Hears a badge scanner that types like a keyboard: quick keys, then Enter. Typing by hand is left alone. */
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
        if (text.length > 7) {
          e.preventDefault();
          told.current(text);
        }
        text = "";
      } else if (e.key.length === 1) text += e.key;
    };
    addEventListener("keydown", press, true);
    return () => removeEventListener("keydown", press, true);
  }, []);
}
