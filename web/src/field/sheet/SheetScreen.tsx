import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { SheetForm } from "../../sheet/SheetForm";
import { findQuestion, goTo, type SheetSource, SheetSourceProvider } from "../../sheet/source";
import type { MissingAnswer, VisitView } from "../../types";
import { Empty } from "../../ui/Empty";
import { price, timeOrDay } from "../../ui/format";
import { Mark, Tag } from "../../ui/Glyph";
import { say } from "../../words/i18n";
import { useVisit } from "../device";
import { SyncMark } from "../SyncMark";
import { useFieldSheet } from "./useFieldSheet";

/** A long check sheet on a page of its own: how far it is, and the way to what is still missing. */
export default function SheetScreen() {
  const { t } = useTranslation();
  const { id = "" } = useParams();
  const view = useVisit(id);
  if (view === undefined) return <p className="empty">{t("visit.opening")}</p>;
  if (view === null) return <Empty>{t("visit.gone")}</Empty>;
  return <Loaded view={view} />;
}

function Loaded({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { ref = "" } = useParams();
  const source = useFieldSheet(view, ref);
  if (source === undefined) return <p className="empty">{t("visit.opening")}</p>;
  if (source === null) {
    return (
      <Empty>
        <p>{t("sheet.notHere")}</p>
        <Link className="link" to={`/field/visit/${view.id}`}>
          {t("visit.back")}
        </Link>
      </Empty>
    );
  }
  return (
    <SheetSourceProvider value={source}>
      <main className="visit sheet-page">
        <Head view={view} source={source} />
        <div className="visit-body">
          {source.state.newer && (
            <p>
              <Tag kind="warn">{t("sheet.newer")}</Tag>
            </p>
          )}
          <SheetForm />
          <Result source={source} />
        </div>
      </main>
      <Next source={source} visit={view.id} />
    </SheetSourceProvider>
  );
}

function Head({ view, source }: { view: VisitView; source: SheetSource }) {
  const { t } = useTranslation();
  const { answered, total, begun } = source.state;
  return (
    <header className="visit-head">
      <div className="visit-title">
        <Link to={`/field/visit/${view.id}`} className="back" aria-label={t("sheet.back")}>
          <svg viewBox="0 0 22 22" className="glyph" aria-hidden="true">
            <path d="M14 3 6 11l8 8" fill="none" stroke="currentColor" strokeWidth="2.4" />
          </svg>
        </Link>
        <div className="grow">
          <h1>{source.sheet.title}</h1>
          <p className="small quiet">
            {[view.site.name, view.asset?.name].filter(Boolean).join(" · ")}
            {begun && ` · ${t("sheet.begun", { time: timeOrDay(begun) })}`}
          </p>
        </div>
        <SyncMark />
      </div>
      <div className="sheet-progress">
        <progress max={Math.max(total, 1)} value={answered} aria-label={source.sheet.title} />
        <span className="small nowrap">{t("checks.progress", { answered, total })}</span>
      </div>
    </header>
  );
}

function Result({ source }: { source: SheetSource }) {
  const { t } = useTranslation();
  const { score, amount, missing } = source.state;
  if (!score && !amount) return null;
  return (
    <section className="sec">
      {amount && (
        <p className="line">
          <span className="grow">{t("sheet.total")}</span> <b>{price(amount, source.currency)}</b>
        </p>
      )}
      {score && (
        <p className="line">
          <span className="grow">{t("sheet.score", { points: score.points, of: score.of })}</span>
          <b>{score.percent} %</b>
          {score.counts && missing.length === 0 && <Tag kind={score.passed ? "good" : "warn"}>{t(score.passed ? "sheet.passed" : "sheet.notPassed")}</Tag>}
        </p>
      )}
    </section>
  );
}

/** Under the thumb: the next thing that is missing, or that nothing is. */
function Next({ source, visit }: { source: SheetSource; visit: string }) {
  const { t } = useTranslation();
  const missing = [...source.state.missing, ...source.state.blocks];
  const next = missing[0];
  return (
    <footer className="dock on-night sheet-next">
      {next ? (
        <>
          <span className="grow small">
            {t("sheet.missing", { count: missing.length })}
            <b className="block">{label(source, next)}</b>
          </span>
          <Button variant="contained" onClick={() => goTo(next.question, next.item)}>
            {t("sheet.go")}
          </Button>
        </>
      ) : (
        <>
          <span className="grow">
            <Mark kind="good" /> {t("sheet.allThere")}
          </span>
          <Button variant="contained" component={Link} to={`/field/visit/${visit}`}>
            {t("sheet.back")}
          </Button>
        </>
      )}
    </footer>
  );
}

function label(source: SheetSource, m: MissingAnswer): string {
  const q = findQuestion(source.sheet, m.question);
  const item = source.state.sections?.flatMap((s) => s.items ?? []).find((i) => i.id === m.item);
  const what = m.code === "missing.answer" && q ? q.text : q && m.code !== "missing.block" ? `${q.text}: ${say(m)}` : say(m);
  return item ? `${item.name}: ${what}` : what;
}
