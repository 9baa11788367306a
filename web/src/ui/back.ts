/**
 * The Back key closes what is open over a page, and never the page under it. Each layer that is open has an entry of its own in the browser's
 * history, made once the layers have settled, so that one that takes another's place takes its entry too.
 */
import { useEffect, useRef } from "react";

interface Layer {
  close: () => void;
}

const layers: Layer[] = [];
const depth = () => (history.state as { layers?: number } | null)?.layers ?? 0;
let settling = false;

function settle() {
  settling = false;
  const more = layers.length - depth();
  for (let i = depth() + 1; i <= layers.length; i++) history.pushState({ ...history.state, layers: i }, "");
  if (more < 0) history.go(more);
}

function settleSoon() {
  if (!settling) setTimeout(settle);
  settling = true;
}

/** Begins to follow the Back key; called once, when the app starts. */
export function followBack() {
  addEventListener("popstate", () => {
    while (layers.length > depth()) layers.pop()?.close();
    if (depth() > layers.length) settleSoon(); // an entry of a layer that is long closed: on to the page
  });
  if (depth() > 0) settleSoon(); // the page was loaded anew while something was open
}

/** Resolves when the browser's history is that of the layers that are open: going elsewhere before that would go from a layer's entry. */
export async function settled(): Promise<void> {
  for (let tries = 0; tries < 100 && (settling || layers.length !== depth()); tries++) await new Promise((done) => setTimeout(done, 5));
}

/** Has Back close this layer for as long as it is there. */
export function useBack(onClose: () => void) {
  const close = useRef(onClose);
  close.current = onClose;
  useEffect(() => {
    const layer = { close: () => close.current() };
    layers.push(layer);
    settleSoon();
    return () => {
      const at = layers.indexOf(layer);
      if (at >= 0) layers.splice(at, 1);
      settleSoon();
    };
  }, []);
}
