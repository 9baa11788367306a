import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import type { SheetPage, SheetProblem } from "../../types";
import { Tag } from "../../ui/Glyph";
import { say } from "../../words/i18n";
import { Answer, Failure } from "../queries";
import { type Draft, questionsOf, useDraft, useSheetPage } from "./draft";
import { Outline } from "./Outline";
import { Preview } from "./Preview";
import { QuestionEditor } from "./QuestionEditor";
import { SectionEditor } from "./SectionEditor";
import { SheetEditor } from "./SheetEditor";
import "./designer.css";

/** What is being edited: the sheet as a whole, a section or a question. */
export type Chosen = { section: number } | { question: string } | undefined;

/** The sheet designer: what there is on the left, what is chosen in the middle, how it looks on the phone on the right. */
export default function Designer() {
  const { id = "" } = useParams();
  const query = useSheetPage(id);
  return <Answer query={query}>{(page) => <Desk key={page.sheet.version} page={page} />}</Answer>;
}

function Desk({ page }: { page: SheetPage }) {
  const draft = useDraft(page);
  const [chosen, choose] = useState<Chosen>();
  const question = chosen && "question" in chosen ? questionsOf(draft.sheet).find((q) => q.id === chosen.question) : undefined;
  const section = chosen && "section" in chosen ? draft.sheet.sections[chosen.section] : undefined;
  const find = (p: SheetProblem) => choose(p.question ? { question: p.question } : p.field === "title" && !p.question ? undefined : { section: p.section });
  return (
    <main className="designer">
      <Head draft={draft} />
      <Outline draft={draft} chosen={chosen} onChoose={choose} />
      <div className="designer-editor">
        {question ? (
          <QuestionEditor key={question.id} draft={draft} question={question} onChoose={choose} />
        ) : section && chosen && "section" in chosen ? (
          <SectionEditor key={chosen.section} draft={draft} index={chosen.section} section={section} onChoose={choose} />
        ) : (
          <SheetEditor draft={draft} onChoose={choose} />
        )}
      </div>
      <Preview sheet={draft.looked.sheet} />
      <Problems draft={draft} onFind={find} />
    </main>
  );
}

function Head({ draft }: { draft: Draft }) {
  const { t } = useTranslation();
  const { sheet, looked } = draft;
  const [asking, setAsking] = useState(false);
  const problems = looked.problems;
  const live = looked.published.length;
  return (
    <header className="designer-head">
      <div className="grow">
        <p className="small quiet">
          <Link to="/office/setup/sheets">{t("sheets.title")}</Link>
        </p>
        <h1>
          {sheet.title} <span className="small quiet">{t("designer.version", { version: sheet.version })}</span>
        </h1>
      </div>
      <span className="small quiet" role="status">
        {draft.changed && t(draft.kept ? "designer.kept" : "designer.notKept")}
      </span>
      {live > 0 && (
        <a className="small" href={`/api/office/sheetfile/${sheet.id}@${looked.published.at(-1)}`} download>
          {t("designer.export")}
        </a>
      )}
      <Button variant="contained" disabled={problems.length > 0 || (live > 0 && looked.changes.length === 0)} onClick={() => setAsking(true)}>
        {t("designer.publish")}
      </Button>
      <Failure error={draft.error} />
      {asking && <Publish draft={draft} onClose={() => setAsking(false)} />}
    </header>
  );
}

/** What is wrong with the sheet, at the foot: it comes and goes while somebody works above it, and moves nothing there. */
function Problems({ draft, onFind }: { draft: Draft; onFind: (p: SheetProblem) => void }) {
  const { t } = useTranslation();
  const { problems } = draft.looked;
  if (problems.length === 0) return null;
  return (
    <ul className="designer-problems" aria-label={t("designer.problems")}>
      {problems.map((p) => (
        <li key={JSON.stringify(p)}>
          <button type="button" className="link small" onClick={() => onFind(p)}>
            <Tag kind="warn">
              {p.question && `${questionsOf(draft.sheet).find((q) => q.id === p.question)?.text || p.question}: `}
              {say(p)}
            </Tag>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** What is new, before it is published: visits under way keep the version they have. */
function Publish({ draft, onClose }: { draft: Draft; onClose: () => void }) {
  const { t } = useTranslation();
  const { changes, published } = draft.looked;
  return (
    <section className="designer-publish" aria-label={t("designer.changes")}>
      <h2>{t(published.length > 0 ? "designer.changes" : "designer.first")}</h2>
      {changes.length > 0 && (
        <ul>
          {changes.map((c) => (
            <li key={`${c.what} ${c.section} ${c.question} ${c.text}`}>
              <b>{t(`change.${c.what as "added"}`)}</b> {c.text}
              {c.fields && <span className="small quiet"> ({c.fields.map((f) => t(`fieldOf.${f as "text"}`, { defaultValue: f })).join(", ")})</span>}
            </li>
          ))}
        </ul>
      )}
      <p className="small quiet">{t("designer.underWay")}</p>
      <Button
        variant="contained"
        onClick={async () => {
          await draft.publish();
          onClose();
        }}
      >
        {t("designer.publishNow", { version: draft.sheet.version })}
      </Button>{" "}
      <button type="button" className="link" onClick={onClose}>
        {t("choose.cancel")}
      </button>
    </section>
  );
}
