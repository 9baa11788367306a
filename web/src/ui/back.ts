/**
 * The Back key closes what is open over a page, and never the page under it. Each layer that is open has an entry of its own in the browser's
 * history, from the moment that it shows. The entry of a layer that was closed in another way stays as a spare: the next layer takes it, and Back goes
 * over it. It is not taken out at once, since that would end whatever the browser is loading by then.
 */
import { useLayoutEffect, useRef } from "react";

interface Layer {
  close: () => void;
}

/** What an entry of the history holds: how many layers are open at it, and, from the router, which page it is of. */
interface Entry {
  layers?: number;
  key?: string;
}

const layers: Layer[] = [];
const entry = () => (history.state ?? {}) as Entry;
const depth = () => entry().layers ?? 0;
/** The page that has entries of closed layers over it, and up to which depth. */
let spare: { key?: string; depth: number } | undefined;
/** While the browser goes from a spare entry to the page: settled when it is there. */
let going: Promise<void> | undefined;
let arrive = () => {};

/** Gives each open layer its entry, and notes what is spare. */
function giveEntries() {
  for (let i = depth() + 1; i <= layers.length; i++) history.pushState({ ...history.state, layers: i }, "");
  spare = depth() > layers.length ? { key: entry().key, depth: depth() } : undefined;
}

/** Goes from a spare entry to that of what is open. */
function leaveSpare(): Promise<void> {
  going ??= new Promise((done) => {
    arrive = done;
    history.go(layers.length - depth());
  });
  return going;
}

function followPop() {
  if (going) {
    arrive();
    going = undefined;
    giveEntries();
    return;
  }
  while (layers.length > depth()) layers.pop()?.close();
  if (spare && spare.key === entry().key && depth() < spare.depth) {
    spare = undefined;
    history.go(layers.length - depth() - 1); // Back went no further than a spare entry: it is meant for what lies under it
  } else if (depth() > layers.length) void leaveSpare(); // back from another page
}

/** Begins to follow the Back key; called once, when the app starts. */
export function followBack() {
  addEventListener("popstate", followPop);
  giveEntries(); // the page may have been loaded anew while something was open
}

/** Resolves when the browser's history is that of the layers that are open: what takes the place of a page must not take that of a spare entry. */
export async function settled(): Promise<void> {
  await new Promise((done) => setTimeout(done)); // what closes now has closed
  if (depth() > layers.length) await leaveSpare();
}

/** Has Back close this layer for as long as it is there. */
export function useBack(onClose: () => void) {
  const close = useRef(onClose);
  close.current = onClose;
  useLayoutEffect(() => {
    const layer = { close: () => close.current() };
    layers.push(layer);
    giveEntries();
    return () => {
      const at = layers.indexOf(layer);
      if (at < 0) return; // Back closed it
      layers.splice(at, 1);
      giveEntries();
    };
  }, []);
}
