/** The real core, for tests: Node.js fetches no files, so it is read. */
import { readFileSync } from "node:fs";
import { vi } from "vitest";
import { letCoreLoad, loadCore } from "./core";

export async function loadRealCore() {
  vi.stubGlobal("requestAnimationFrame", (f: () => void) => setTimeout(f));
  const wasm = new Response(readFileSync(new URL("./core.wasm", import.meta.url)), { headers: { "Content-Type": "application/wasm" } });
  vi.stubGlobal("fetch", async () => wasm);
  letCoreLoad();
  await loadCore();
}
