import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { made, openPrinter, type Printer, picturesHere, reportOf } from "../../device/report";
import type { Layout, VisitView } from "../../types";
import { useDevice, useRecord, useSettings } from "../device";

const outcomes = ["complete", "return_needed", "no_access", "not_needed"] as const;

/** How long making took, from the tap to the paper that is kept, for make bench. */
const reportMeasure = "iter.report";

/** Makes a report: what it says is worked out, printed, and kept with the visit. The printer is made ready while somebody chooses. */
export function useMakeReport(view: VisitView) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const settings = useSettings();
  const record = useRecord();
  const printer = useRef<Printer>(null);
  useEffect(() => {
    const made = openPrinter();
    printer.current = made;
    return made.close;
  }, []);
  return async (layout: Layout, photos: string[]) => {
    const began = performance.now();
    const words = Object.fromEntries(outcomes.map((o) => [o, t(`outcome.${o}`)]));
    const here = await picturesHere(db, view, settings);
    const wish = { layout, by: me.person.name, photos, here, words, checkAt: `${location.origin}/check/` };
    const said = await reportOf(db, view.id, wish);
    const paper = await made(said.report, said.digest, await printer.current!.print(db, said.report));
    // The office prints it from the same photos.
    const sent = said.report.photos.map((p) => p.hash);
    const entry = await record("report.made", view.id, paper.body, { file: { ...paper.file, visit: view.id }, send: sent });
    performance.measure(reportMeasure, { start: began });
    return entry;
  };
}
