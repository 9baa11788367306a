import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { CoreError, core } from "../../device/core";
import type { Answer, Code, Question, Sheet, VisitView } from "../../types";
import { Mark } from "../../ui/Glyph";
import { say } from "../../words/i18n";
import { useRecord } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

export function Checks({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const sum = view.progress.reduce((n, p) => ({ answered: n.answered + p.answered, total: n.total + p.total }), { answered: 0, total: 0 });
  return (
    <VisitSection id="checks" title={t("visit.checks")} end={sum.total > 0 && t("checks.progress", sum)}>
      {view.sheets.length === 0 && <p className="quiet small">{t("checks.none")}</p>}
      {view.sheets.map((s) => (
        <SheetForm key={s.id} sheet={s} view={view} />
      ))}
    </VisitSection>
  );
}

function SheetForm({ sheet, view }: { sheet: Sheet; view: VisitView }) {
  const ref = `${sheet.id}@${sheet.version}`;
  const answers = view.visit.answers?.[ref] ?? {};
  return (
    <>
      {sheet.sections.map((s) => (
        <fieldset key={s.title} className="sheet">
          <legend className="small quiet">
            {sheet.title} · {s.title}
          </legend>
          {s.questions.map((q) => (
            <QuestionLine key={q.id} question={q} sheet={ref} view={view} given={answers[q.id]} />
          ))}
        </fieldset>
      ))}
    </>
  );
}

interface Props {
  question: Question;
  sheet: string;
  view: VisitView;
  given?: Answer;
}

function QuestionLine({ question, sheet, view, given }: Props) {
  const { t } = useTranslation();
  const record = useRecord();
  const value = given?.value ?? "";
  const answer = (v: string) => v !== value && record("sheet.answered", view.id, { sheet, question: question.id, value: v });
  const options =
    question.kind === "yesno"
      ? [
          { id: "yes", text: t("checks.yes") },
          { id: "no", text: t("checks.no") },
        ]
      : (question.options ?? []);
  return (
    <div className="question">
      <div className="question-row">
        <span id={`${sheet}-${question.id}`}>
          {question.text}
          {question.required && !value && (
            <span className="tag warn required">
              <Mark kind="warn" /> {t("checks.required")}
            </span>
          )}
        </span>
        {given?.value && <StrikeOut view={view} entry={given.entry} at={given.at} kind="sheet.answered" person={given.person} />}
      </div>
      {question.kind === "yesno" || question.kind === "choice" ? (
        <div className="options" role="group" aria-labelledby={`${sheet}-${question.id}`}>
          {options.map((o) => (
            <button type="button" key={o.id} aria-pressed={value === o.id} onClick={() => answer(value === o.id ? "" : o.id)}>
              {o.text}
            </button>
          ))}
        </div>
      ) : (
        <Typed question={question} labelledBy={`${sheet}-${question.id}`} value={value} onAnswer={answer} />
      )}
    </div>
  );
}

/** A number or text, saved when the field is left. */
function Typed({ question, labelledBy, value, onAnswer }: { question: Question; labelledBy: string; value: string; onAnswer: (v: string) => void }) {
  const { t } = useTranslation();
  const [text, setText] = useState<string>();
  const [wrong, setWrong] = useState<Code>();
  const number = question.kind === "number";
  const leave = () => {
    if (text === undefined) return;
    try {
      onAnswer(core("answer", { question, value: text }).value);
      setText(undefined);
      setWrong(undefined);
    } catch (e) {
      setWrong(e instanceof CoreError ? e.code : { code: "unreadable" });
    }
  };
  const range =
    number && question.min !== undefined && question.max !== undefined && t("checks.range", { min: question.min, max: question.max, unit: question.unit });
  return (
    <TextField
      className="typed"
      value={text ?? value}
      onChange={(e) => setText(e.target.value)}
      onBlur={leave}
      onKeyDown={(e) => e.key === "Enter" && number && leave()}
      multiline={!number}
      error={!!wrong}
      helperText={wrong ? say(wrong) : range}
      slotProps={{
        input: question.unit ? { endAdornment: question.unit } : undefined,
        htmlInput: { "aria-labelledby": labelledBy, inputMode: number ? "decimal" : "text", autoComplete: "off", maxLength: number ? 30 : 6000 },
      }}
    />
  );
}
