import { useCallback, useRef } from "react";

/**
 * Does something that takes a moment once at a time: what is pressed again before it is done does nothing. For what makes something new with each
 * press; the same entry recorded twice is noticed anyway.
 */
export function useOnce<A extends unknown[]>(does: (...args: A) => Promise<void>): (...args: A) => void {
  const under = useRef(false);
  const last = useRef(does);
  last.current = does;
  return useCallback((...args: A) => {
    if (under.current) return;
    under.current = true;
    void last.current(...args).finally(() => {
      under.current = false;
    });
  }, []);
}
