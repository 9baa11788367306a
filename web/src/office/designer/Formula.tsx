import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Question } from "../../types";
import { say } from "../../words/i18n";
import { questionsOf } from "./draft";
import { type FieldsProps, UnitField } from "./fields";

/** Kinds of questions whose answers a formula can use. */
const usable = (q: Question) => ["number", "reading", "computed", "area", "part", "photo", "yesno", "choice", "several"].includes(q.kind);

/** A formula, with what is wrong with it where it is, and the names it can use. */
export function Formula({ question: q, sheet, problem, onChange }: FieldsProps) {
  const { t } = useTranslation();
  const wrong = problem("formula");
  const text = q.formula ?? "";
  const at = wrong?.at ?? 0;
  return (
    <>
      <TextField
        label={t("designer.formula")}
        value={text}
        multiline
        onChange={(e) => onChange({ formula: e.target.value || undefined })}
        error={!!wrong}
        slotProps={{ htmlInput: { spellCheck: false, className: "mono", maxLength: 1000, "aria-describedby": "formula-problem" } }}
      />
      {wrong && (
        <p className="editor-problem" id="formula-problem" role="status">
          {text && (
            <span className="mono">
              {text.slice(0, at)}
              <mark>{text.slice(at, at + 12) || " "}</mark>
              {text.slice(at + 12)}
            </span>
          )}
          <span className="block">{say(wrong)}</span>
        </p>
      )}
      <div className="editor-row">
        <UnitField question={q} problem={problem} onChange={onChange} />
        <TextField
          label={t("designer.places")}
          value={q.places ?? ""}
          onChange={(e) => /^[0-6]?$/.test(e.target.value) && onChange({ places: Number(e.target.value) || undefined })}
        />
      </div>
      <p className="small quiet">
        {t("designer.names")}{" "}
        {questionsOf(sheet)
          .filter((o) => o.id !== q.id && usable(o))
          .map((o) => (
            <button
              type="button"
              className="chip mono"
              key={o.id}
              title={o.text}
              onClick={() => onChange({ formula: `${text}${text && !text.endsWith(" ") ? " " : ""}${o.id}` })}
            >
              {o.id}
              {o.unit && ` (${o.unit})`}
            </button>
          ))}
      </p>
      <p className="tiny quiet">{t("designer.functions")}</p>
    </>
  );
}
