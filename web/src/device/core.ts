/** The core: the same rules the server runs, as WebAssembly. Calls are synchronous once it is loaded. */
import "./wasm_exec.js";
import type * as T from "../types";
import wasmUrl from "./core.wasm?url";

declare global {
  var iterCore: ((name: string, json: string) => string) | undefined;
  var Go: new () => { importObject: WebAssembly.Imports; run(instance: WebAssembly.Instance): Promise<void> };
}

/** What the core says is wrong, as a code and arguments for the message catalogue. */
export class CoreError extends Error {
  readonly code: T.Code;
  constructor(code: T.Code) {
    super(code.code);
    this.code = code;
  }
}

let loading: Promise<void> | undefined;
let screenShown: () => void;
const shown = new Promise<void>((done) => {
  screenShown = done;
  setTimeout(done, 3000);
});

/** Says that the first screen is there: from now on the core may take the processor. */
export function letCoreLoad() {
  requestAnimationFrame(() => setTimeout(screenShown));
}

/** Loads the core, once. */
export function loadCore(): Promise<void> {
  loading ??= (async () => {
    await shown;
    const go = new Go();
    const { instance } = await WebAssembly.instantiateStreaming(fetch(wasmUrl), go.importObject);
    void go.run(instance);
  })().catch((e) => {
    loading = undefined; // the next call tries again
    throw e;
  });
  return loading;
}

/** Whether the core can be called. */
export const coreLoaded = () => globalThis.iterCore !== undefined;

/** Calls a function of the core. loadCore must have finished. */
export function core<N extends keyof T.CoreFunctions>(name: N, q: Parameters<T.CoreFunctions[N]>[0]): ReturnType<T.CoreFunctions[N]> {
  if (!globalThis.iterCore) throw new Error("the core is not loaded");
  const answer = JSON.parse(globalThis.iterCore(name, JSON.stringify(q)));
  const failure = answer as T.CoreFailure | null;
  if (failure?.error && name !== "judge") throw new CoreError(failure.error);
  return answer;
}
