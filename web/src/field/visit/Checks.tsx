import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useLive } from "../../device/live";
import { SheetForm } from "../../sheet/SheetForm";
import { SheetSourceProvider } from "../../sheet/source";
import type { Sheet, SheetProgress, VisitView } from "../../types";
import { Tag } from "../../ui/Glyph";
import { useDevice } from "../device";
import { useFieldSheet } from "../sheet/useFieldSheet";
import { VisitSection } from "./VisitSection";

const AddSheet = lazy(() => import("./AddSheet"));

/** A sheet that is short is filled in where it stands; a longer one has a page of its own. */
const short = 8;
const isShort = (s: Sheet) => s.sections.reduce((n, x) => n + x.questions.length, 0) <= short && !s.sections.some((x) => x.repeat);

export function Checks({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const [adding, setAdding] = useState(false);
  const refs = view.order.sheets ?? [];
  const sheets = useLive(db, async (db) => Promise.all((view.order.sheets ?? []).map((ref) => db.body("sheet", ref))), [view.order.sheets?.join()]);
  return (
    <VisitSection
      id="checks"
      title={t("visit.checks")}
      end={
        <button type="button" className="link" onClick={() => setAdding(true)}>
          {t("checks.add")}
        </button>
      }
    >
      {refs.length === 0 && <p className="quiet small">{t("checks.none")}</p>}
      {refs.map((ref, i) => {
        const progress = view.progress.find((p) => p.sheet === ref);
        const sheet = sheets?.[i];
        if (!sheet || !progress) return <p key={ref}>{sheets && <Tag kind="warn">{t("sheet.notHere")}</Tag>}</p>;
        return isShort(sheet) ? <Inline key={ref} view={view} progress={progress} /> : <Row key={ref} view={view} progress={progress} />;
      })}
      {adding && (
        <Suspense fallback={null}>
          <AddSheet view={view} onClose={() => setAdding(false)} />
        </Suspense>
      )}
    </VisitSection>
  );
}

function Inline({ view, progress }: { view: VisitView; progress: SheetProgress }) {
  const { t } = useTranslation();
  const source = useFieldSheet(view, progress.sheet);
  if (!source) return null;
  return (
    <SheetSourceProvider value={source}>
      <div className="sheet-inline" id={`sheet-${progress.sheet}`}>
        <p className="small quiet sheet-inline-title">
          <span>{progress.title}</span>
          <span>{t("checks.progress", { ...progress })}</span>
        </p>
        <SheetForm />
      </div>
    </SheetSourceProvider>
  );
}

function Row({ view, progress: p }: { view: VisitView; progress: SheetProgress }) {
  const { t } = useTranslation();
  const lacks = p.missing.length + p.blocks.length;
  return (
    <Link to={`/field/visit/${view.id}/sheet/${encodeURIComponent(p.sheet)}`} className="line line-button sheet-row">
      <span className="grow">
        <span className="strong">{p.title}</span>
        <span className="small quiet block">
          {t("checks.progress", { ...p })}
          {p.score && ` · ${p.score.percent} %`}
        </span>
      </span>
      {p.changed && <Tag kind="warn">{t("sign.changed")}</Tag>}
      {lacks > 0 ? <Tag kind="warn">{t("sheet.lacks", { count: lacks })}</Tag> : <Tag kind="good">{t("sheet.complete")}</Tag>}
      <svg viewBox="0 0 22 22" className="glyph" aria-hidden="true">
        <path d="m8 3 8 8-8 8" fill="none" stroke="currentColor" strokeWidth="2.4" />
      </svg>
    </Link>
  );
}
