/** Service reports: made, printed and kept on the device, with or without signal. */
import type { MadeReport, ReportMade, ServiceReport, Settings, VisitView, Wish } from "../types";
import { CoreError, core } from "./core";
import type { DeviceDB } from "./db";
import { hashOf } from "./files";
import type { Printed, PrintJob } from "./paper.worker";
import type { StoredFile } from "./tables";

/** What a report of a visit says, with its digest and code. */
export async function reportOf(db: DeviceDB, id: string, wish: Wish) {
  const answer = await db.ask([{ type: "visit", id }], (m) => core("report", { ...m, id, wish }));
  return { report: answer.report!, digest: answer.digest ?? "", code: answer.code ?? "" };
}

/** The photos of a visit that this device has, by the hash under which a report carries each; the firm's logo too. */
export async function picturesHere(db: DeviceDB, view: VisitView, settings: Settings | undefined): Promise<Record<string, boolean>> {
  const wanted = new Set((view.visit.files ?? []).flatMap((f) => (f.print ? [f.print.hash, f.hash] : [f.hash])));
  if (settings?.reports.logo) wanted.add(settings.reports.logo.hash);
  const have = await db.files.toCollection().primaryKeys(); // at once: asked for one by one they take longer than the print
  return Object.fromEntries(have.filter((h) => wanted.has(h)).map((h) => [h, true]));
}

export interface Printer {
  /** Prints what a report says. Rejects with a CoreError that says what is wrong. */
  print: (db: DeviceDB, report: ServiceReport) => Promise<Blob>;
  close: () => void;
}

/** Makes a printer ready, beside the screen: it takes a moment, in which somebody chooses what to print. */
export function openPrinter(): Printer {
  const worker = new Worker(new URL("./paper.worker.ts", import.meta.url), { type: "module" });
  return {
    close: () => worker.terminate(),
    print: async (db, report) => {
      const hashes = [report.firm.logo, ...report.photos].flatMap((p) => (p ? [p.hash] : []));
      const kept = (await db.files.bulkGet(hashes)).filter((f) => f !== undefined);
      const bytes = await Promise.all(kept.map((f) => f.blob.arrayBuffer()));
      const files: PrintJob["files"] = Object.fromEntries(kept.map((f, i) => [f.hash, new Uint8Array(bytes[i])]));
      const printed = await new Promise<Printed>((done, fail) => {
        worker.onmessage = (e: MessageEvent<Printed>) => done(e.data);
        worker.onerror = () => fail(new CoreError({ code: "report.printer" }));
        worker.postMessage({ report, files } satisfies PrintJob, bytes);
      });
      if ("problem" in printed) throw new CoreError(printed.problem);
      return new Blob([printed.pdf], { type: "application/pdf" });
    },
  };
}

/** A report that was printed: what is recorded of it, and the paper to keep. */
export async function made(report: ServiceReport, digest: string, pdf: Blob): Promise<{ body: ReportMade; file: StoredFile }> {
  const hash = await hashOf(pdf);
  const name = `report-${report.order}-${report.at.slice(0, 10)}.pdf`;
  return {
    body: { report, digest, pdf: hash, size: pdf.size },
    // The office prints it itself: the paper is not sent.
    file: { hash, name, type: pdf.type, size: pdf.size, blob: pdf, state: "here", at: Date.now() },
  };
}

/** The paper of a report: the device's own, or the office's. */
export const paperOf = async (db: DeviceDB, entry: MadeReport["entry"], hash: string): Promise<Blob> => {
  const kept = await db.files.get(hash);
  if (kept) return kept.blob;
  const response = await fetch(`/api/reports/${entry}.pdf`);
  if (!response.ok) throw new CoreError(await response.json().catch(() => ({ code: "server.unreachable" })));
  return response.blob();
};
