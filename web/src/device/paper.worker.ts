/** Prints service reports away from the screen: the same Go code that the office prints with. */
import "./wasm_exec.js";
import type { Code, ServiceReport } from "../types";
import paperUrl from "./paper.wasm?url";

declare global {
  var iterPaper: ((report: string, files: Record<string, Uint8Array>) => Uint8Array<ArrayBuffer> | string) | undefined;
}

export interface PrintJob {
  report: ServiceReport;
  files: Record<string, Uint8Array>;
}

export type Printed = { pdf: Uint8Array<ArrayBuffer> } | { problem: Code };

/** Printed once, so that the code is compiled before somebody waits for it. */
const nothing: ServiceReport = {
  layout: "full",
  language: "en",
  at: new Date().toISOString(),
  by: "",
  firm: { name: "" },
  order: "",
  customer: "",
  site: "",
  problem: "",
  people: [],
  tasks: [],
  findings: [],
  readings: [],
  sheets: [],
  parts: [],
  advice: [],
  photos: [],
  signatures: [],
};

const loaded = (async () => {
  const go = new Go();
  const { instance } = await WebAssembly.instantiateStreaming(fetch(paperUrl), go.importObject);
  void go.run(instance);
  globalThis.iterPaper!(JSON.stringify(nothing), {});
})();

addEventListener("message", async ({ data }: MessageEvent<PrintJob>) => {
  const answer = await loaded.then(
    () => globalThis.iterPaper!(JSON.stringify(data.report), data.files),
    () => JSON.stringify({ code: "report.printer" } satisfies Code),
  );
  const out: Printed = typeof answer === "string" ? { problem: JSON.parse(answer) } : { pdf: answer };
  postMessage(out);
});
