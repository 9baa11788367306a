import { useState } from "react";

/** What is typed and not saved yet survives a closed drawer and a closed app; setting it to "" lets go of it. */
export function useKept(key: string): [string, (s: string) => void] {
  const name = `iter.draft.${key}`;
  const [text, setText] = useState(() => localStorage.getItem(name) ?? "");
  const keep = (s: string) => {
    setText(s);
    if (s) localStorage.setItem(name, s);
    else localStorage.removeItem(name);
  };
  return [text, keep];
}
