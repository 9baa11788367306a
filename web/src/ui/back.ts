/**
 * The Back key closes what is open over a page, and never the page under it. Each layer that is open has an entry of its own in the browser's
 * history, from the moment that it shows. An entry goes once the layers have settled, so that a layer that takes another's place takes its entry too.
 */
import { useLayoutEffect, useRef } from "react";

interface Layer {
  close: () => void;
}

const layers: Layer[] = [];
const depth = () => (history.state as { layers?: number } | null)?.layers ?? 0;
let settling = false; // soon
let going = false; // the browser is on its way to another entry

function settle() {
  settling = false;
  if (going) return; // once it is there
  for (let i = depth() + 1; i <= layers.length; i++) history.pushState({ ...history.state, layers: i }, "");
  going = depth() > layers.length;
  if (going) history.go(layers.length - depth());
}

function settleSoon() {
  if (!settling) setTimeout(settle);
  settling = true;
}

/** Begins to follow the Back key; called once, when the app starts. */
export function followBack() {
  addEventListener("popstate", () => {
    if (going) {
      going = false;
      settle();
      return;
    }
    while (layers.length > depth()) layers.pop()?.close();
    if (depth() > layers.length) settleSoon(); // an entry of a layer that is long closed: on to the page
  });
  if (depth() > 0) settleSoon(); // the page was loaded anew while something was open
}

/** Resolves when the browser's history is that of the layers that are open: going elsewhere before that would go from a layer's entry. */
export async function settled(): Promise<void> {
  for (let tries = 0; tries < 100 && (settling || going || layers.length !== depth()); tries++) await new Promise((done) => setTimeout(done, 5));
}

/** Has Back close this layer for as long as it is there. */
export function useBack(onClose: () => void) {
  const close = useRef(onClose);
  close.current = onClose;
  useLayoutEffect(() => {
    const layer = { close: () => close.current() };
    layers.push(layer);
    settle();
    return () => {
      const at = layers.indexOf(layer);
      if (at >= 0) layers.splice(at, 1);
      settleSoon();
    };
  }, []);
}
