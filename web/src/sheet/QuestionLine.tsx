import { TextField } from "@mui/material";
import { lazy, Suspense } from "react";
import { useTranslation } from "react-i18next";
import type { AnswerLine, Question } from "../types";
import { price } from "../ui/format";
import { Mark, Tag } from "../ui/Glyph";
import { say } from "../words/i18n";
import { Options } from "./Options";
import { PartInput } from "./PartInput";
import { keyOf, placeOf, useAnswerDraft, useSheet } from "./source";
import { Typed } from "./Typed";

const AreaInput = lazy(() => import("./AreaInput"));
const SignatureInput = lazy(() => import("./SignatureInput"));

/** A question that applies: its words, its answer, and what the answer asks for in turn. */
export function QuestionLine({ question: q, line }: { question: Question; line: AnswerLine }) {
  const { t } = useTranslation();
  const { answers, strike, paper } = useSheet();
  const given = answers[keyOf(q.id, line.item)];
  const id = placeOf(q.id, line.item);
  return (
    <div className="question" id={id}>
      <div className="question-row">
        <span id={`${id}-text`} className="pre">
          {q.text}
          {line.required && !line.value && (
            <span className="tag warn required">
              <Mark kind="warn" /> {t("checks.required")}
            </span>
          )}
          {q.help && <span className="small quiet block">{q.help}</span>}
        </span>
        {given?.value && !given.known && q.kind !== "instruction" && strike(given, "sheet.answered")}
      </div>
      {q.kind === "instruction" && paper(q)}
      <Input question={q} line={line} labelledBy={`${id}-text`} />
      {line.known && <p className="tiny quiet">{t("sheet.known")}</p>}
      {line.problem && (
        <p>
          <Tag kind="warn">{say(line.problem)}</Tag>
        </p>
      )}
      <Follow question={q} line={line} />
    </div>
  );
}

function Input({ question: q, line, labelledBy }: { question: Question; line: AnswerLine; labelledBy: string }) {
  const { t } = useTranslation();
  const source = useSheet();
  switch (q.kind) {
    case "instruction":
      return null;
    case "yesno":
    case "choice":
    case "several":
      return <Options question={q} line={line} labelledBy={labelledBy} />;
    case "photo":
      return source.photos(q, line.item);
    case "reading":
      return source.reading(q, line);
    case "part":
      return <PartInput question={q} line={line} />;
    case "area":
      return (
        <Suspense fallback={null}>
          <AreaInput question={q} line={line} />
          {!line.photo && source.photos(q, line.item)}
        </Suspense>
      );
    case "signature":
      return (
        <Suspense fallback={null}>
          <SignatureInput question={q} line={line} />
        </Suspense>
      );
    case "computed":
      return <Computed question={q} line={line} />;
    case "number":
    case "text":
    case "date":
    case "datetime":
    case "scan":
      return <Typed question={q} line={line} labelledBy={labelledBy} />;
  }
  // Of a newer program: what was answered is kept and shown, and the visit waits for an update.
  return (
    <p className="small">
      <Tag kind="warn">{t("sheet.unknownKind")}</Tag> {line.value}
    </p>
  );
}

function Computed({ question: q, line }: { question: Question; line: AnswerLine }) {
  const { t } = useTranslation();
  const { currency } = useSheet();
  if (!line.value) return line.problem ? null : <p className="quiet small">{t("sheet.notYet")}</p>;
  const word = line.amount
    ? price(line.amount, currency)
    : line.value === "yes"
      ? t("checks.yes")
      : line.value === "no"
        ? t("checks.no")
        : `${line.value} ${q.unit ?? ""}`;
  return (
    <output className="computed">
      <b>{word}</b>
    </output>
  );
}

/** What a certain answer asks for: a photo, a note; and what it tells the office. */
function Follow({ question: q, line }: { question: Question; line: AnswerLine }) {
  const { t } = useTranslation();
  const source = useSheet();
  const lacks = (code: string) => source.state.missing.some((m) => m.question === q.id && (m.item ?? "") === (line.item ?? "") && m.code === code);
  return (
    <>
      {line.alerts?.map((a) => (
        <p key={a}>
          <Tag kind={a === "hazard" ? "bad" : "warn"}>{t(`alert.${a}`)}</Tag>
        </p>
      ))}
      {source.state.blocks.some((b) => b.question === q.id && (b.item ?? "") === (line.item ?? "")) && (
        <p>
          <Tag kind="bad">{t("sheet.blocks")}</Tag>
        </p>
      )}
      {line.photo && (
        <div className="follow">
          <p className={lacks("missing.photo") ? "follow-lacks" : undefined}>{t("sheet.photoAsked")}</p>
          {source.photos(q, line.item)}
        </div>
      )}
      {line.note && <AnswerNote question={q} line={line} lacks={lacks("missing.note")} />}
    </>
  );
}

function AnswerNote({ question: q, line, lacks }: { question: Question; line: AnswerLine; lacks: boolean }) {
  const { t } = useTranslation();
  const { answers, answer } = useSheet();
  const have = answers[keyOf(q.id, line.item)]?.note ?? "";
  const draft = useAnswerDraft<{ text?: string }>(q, line.item, "note", {});
  const { text } = draft.value;
  const leave = async () => {
    if (text === undefined || text === have || (await answer(q, line.item, line.value ?? "", text))) draft.clear();
  };
  return (
    <TextField
      className="typed follow"
      label={t("sheet.noteAsked")}
      value={text ?? have}
      onChange={(e) => draft.change({ text: e.target.value })}
      onBlur={leave}
      multiline
      color={lacks ? "warning" : undefined}
      focused={lacks || undefined}
      slotProps={{ htmlInput: { maxLength: 5000 } }}
    />
  );
}
