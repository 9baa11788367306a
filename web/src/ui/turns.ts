import { useEffect, useState } from "react";

/** Takes things in turn, each with the state that the one before left behind; what comes before it is ready waits. */
export function useTurns<T>(ready: boolean, take: (thing: T) => void): (thing: T) => void {
  const [waiting, setWaiting] = useState<T[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a turn comes with a thing, and takes it as the page is then
  useEffect(() => {
    if (!ready || waiting.length === 0) return;
    take(waiting[0]);
    setWaiting((w) => w.slice(1));
  }, [ready, waiting]);
  return (thing) => setWaiting((w) => [...w, thing]);
}
