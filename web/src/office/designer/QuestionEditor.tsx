import { MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Question, QuestionKind } from "../../types";
import { say } from "../../words/i18n";
import type { Chosen } from "./Designer";
import { type Draft, questionsOf, renamed, withQuestion } from "./draft";
import { KindFields } from "./KindFields";
import { kinds } from "./Outline";
import { ConditionEditor, TriggerEditor } from "./Rules";

interface Props {
  draft: Draft;
  question: Question;
  onChoose: (c: Chosen) => void;
}

/** One question: its words, what kind of answer it takes, when it applies, and what follows from the answer. */
export function QuestionEditor({ draft, question: q, onChoose }: Props) {
  const { t } = useTranslation();
  const { sheet, change, looked } = draft;
  const section = sheet.sections.findIndex((s) => s.questions.some((x) => x.id === q.id));
  const put = (f: Partial<Question>) => change((s) => withQuestion(s, q.id, (x) => ({ ...x, ...f })));
  const problems = looked.problems.filter((p) => p.question === q.id);
  const problem = (field: string) => problems.find((p) => p.field === field);
  const other = !["instruction", "computed"].includes(q.kind);
  return (
    <>
      <h2>{t("designer.question")}</h2>
      <TextField
        label={t("designer.text")}
        value={q.text}
        autoFocus={!q.text}
        multiline
        onChange={(e) => put({ text: e.target.value })}
        error={!!problem("text")}
        slotProps={{ htmlInput: { maxLength: 1000 } }}
      />
      <div className="editor-row">
        <TextField select label={t("designer.kind")} value={q.kind} onChange={(e) => put({ kind: e.target.value as QuestionKind })}>
          {kinds.map((k) => (
            <MenuItem key={k} value={k}>
              {t(`kind.${k}`)}
            </MenuItem>
          ))}
        </TextField>
        <Name draft={draft} question={q} problem={problem("id") && say(problem("id")!)} onChoose={onChoose} />
      </div>
      <TextField label={t("designer.help")} value={q.help ?? ""} multiline onChange={(e) => put({ help: e.target.value || undefined })} />
      <KindFields question={q} sheet={sheet} problem={problem} onChange={put} />
      {["yesno", "choice", "several", "number", "part", "area"].includes(q.kind) && (
        <label className="check">
          <input type="checkbox" checked={q.prefill === "last"} onChange={(e) => put({ prefill: e.target.checked ? "last" : undefined })} />{" "}
          {t("designer.last")}
        </label>
      )}
      {other && (
        <label className="check">
          <input type="checkbox" checked={!!q.required} onChange={(e) => put({ required: e.target.checked || undefined })} /> {t("designer.required")}
        </label>
      )}
      <ConditionEditor label={t("designer.showIf")} sheet={sheet} section={section} self={q.id} value={q.showIf} onChange={(showIf) => put({ showIf })} />
      {other && !q.required && (
        <ConditionEditor
          label={t("designer.requireIf")}
          sheet={sheet}
          section={section}
          self={q.id}
          value={q.requireIf}
          onChange={(requireIf) => put({ requireIf })}
        />
      )}
      {q.kind !== "instruction" && <TriggerEditor question={q} onChange={(on) => put({ on })} />}
      {problems
        .filter((p) => !["text", "id", "formula", "unit"].includes(p.field ?? ""))
        .map((p) => (
          <p key={JSON.stringify(p)} className="editor-problem">
            {say(p)}
          </p>
        ))}
      <p className="editor-foot">
        <button
          type="button"
          className="link"
          onClick={() => {
            change((s) => ({ ...s, sections: s.sections.map((x) => ({ ...x, questions: x.questions.filter((o) => o.id !== q.id) })) }));
            onChoose({ section });
          }}
        >
          {t("designer.removeQuestion")}
        </button>
      </p>
    </>
  );
}

/** What formulas call the question. Changing it changes it everywhere. */
function Name({ draft, question: q, problem, onChoose }: { draft: Draft; question: Question; problem?: string; onChoose: (c: Chosen) => void }) {
  const { t } = useTranslation();
  const [text, setText] = useState<string>();
  const taken = questionsOf(draft.sheet).some((o) => o.id === text && o.id !== q.id);
  const leave = () => {
    const to = text?.trim();
    if (to && to !== q.id && !taken) {
      draft.change((s) => renamed(s, q.id, to));
      onChoose({ question: to });
    }
    setText(undefined);
  };
  return (
    <TextField
      label={t("designer.id")}
      value={text ?? q.id}
      onChange={(e) => setText(e.target.value)}
      onBlur={leave}
      onKeyDown={(e) => e.key === "Enter" && leave()}
      error={taken || !!problem}
      helperText={taken ? say({ code: "sheet.question_twice", args: { id: text! } }) : problem}
      slotProps={{ htmlInput: { spellCheck: false, className: "mono" } }}
    />
  );
}
