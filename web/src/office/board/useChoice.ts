import { useCallback, useRef, useState } from "react";

const nothing: string[] = [];

/** What is chosen on the board: a visit or work that waits, several of them, or somebody's day, or a time of it. One at a time. */
export function useChoice() {
  const [chosen, setChosen] = useState<string>();
  const [several, setSeveral] = useState(nothing);
  const [beside, setBeside] = useState<{ person: string; at?: number; without?: string }>();
  const latest = useRef<string>(undefined);
  latest.current = chosen;
  /** Chooses one, nothing, or with more one beside what is chosen, or one less. */
  const choose = useCallback((id: string | undefined, more?: boolean) => {
    const before = latest.current;
    setBeside(undefined);
    setSeveral((now) => {
      if (!more || !id) return nothing;
      const all = now.length > 0 || !before ? now : [before];
      return all.includes(id) ? all.filter((x) => x !== id) : [...all, id];
    });
    setChosen(more ? undefined : id);
  }, []);
  /** Shows somebody's day, or a time of it: what could fill it, but for a work order. */
  const look = useCallback((person: string, at?: number, without?: string) => {
    setChosen(undefined);
    setSeveral(nothing);
    setBeside({ person, at, without });
  }, []);
  return { chosen, several, beside, choose, look };
}
