import { useState } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import { useLive } from "../../device/live";
import type { EarlierLine, SummaryLine, VisitView } from "../../types";
import { longDate, quantity } from "../../ui/format";
import { useCore, useDevice } from "../device";
import { VisitSection } from "../visit/VisitSection";

/** How many are shown before somebody asks for more. */
const first = 3;

/** What was done at the site before, or to the machine: by whom, with which parts, what was measured. */
export function History({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const ready = useCore();
  const [ofSite, setOfSite] = useState(false);
  const [whole, setWhole] = useState(false);
  const site = view.order.site;
  const all = useLive(db, async (db) => (ready ? (await db.ask([{ type: "history", id: site }], (m) => core("history", { ...m, site }))).lines : undefined), [
    site,
    ready,
  ]);
  const before = all?.filter((l) => l.visit !== view.id) ?? [];
  const ofMachine = before.filter((l) => l.asset && l.asset === view.order.asset);
  const shown = ofSite || !view.asset ? before : ofMachine;
  if (before.length === 0) return null;
  return (
    <VisitSection
      id="history"
      title={t("history.title")}
      end={
        view.asset && (
          <button type="button" className="link" aria-pressed={ofSite} onClick={() => setOfSite(!ofSite)}>
            {t(ofSite ? "history.machine" : "history.site", { count: ofSite ? ofMachine.length : before.length })}
          </button>
        )
      }
    >
      {shown.length === 0 && <p className="quiet small">{t("history.none")}</p>}
      {shown.slice(0, whole ? undefined : first).map((l) => (
        <Earlier key={l.visit} line={l} />
      ))}
      {!whole && shown.length > first && (
        <button type="button" className="link" onClick={() => setWhole(true)}>
          {t("history.more", { count: shown.length - first })}
        </button>
      )}
    </VisitSection>
  );
}

function Earlier({ line: l }: { line: EarlierLine }) {
  const { t } = useTranslation();
  return (
    <details className="earlier">
      <summary>
        <span className="strong">{longDate(l.ended)}</span> {l.problem}
        <span className="tiny quiet block">
          {l.names.join(", ")} · {t(`outcome.${l.outcome}`)}
          {l.assetName && ` · ${l.assetName}`}
        </span>
      </summary>
      {l.notes.map((n, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: notes of a visit that is over keep their places
        <p className="pre small" key={i}>
          {n}
        </p>
      ))}
      <Lines title={t("visit.parts")} lines={l.used} />
      <Lines title={t("visit.readings")} lines={l.measured} />
      {l.reports.map((r) => (
        <a key={r.entry} className="link" href={`/api/reports/${r.entry}.pdf`} target="_blank" rel="noreferrer">
          {t("report.code", { code: r.code })}
        </a>
      ))}
    </details>
  );
}

function Lines({ title, lines }: { title: string; lines: SummaryLine[] }) {
  if (lines.length === 0) return null;
  return (
    <p className="small">
      <span className="quiet">{title}: </span>
      {lines.map((l) => `${l.name} ${quantity(l.value, l.unit)}`).join(" · ")}
    </p>
  );
}
