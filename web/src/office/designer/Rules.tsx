/** Rules built from menus: which answer, how compared, with what. */
import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Condition, Is, Question, Sheet, SheetTest, Trigger } from "../../types";
import { questionsOf } from "./draft";

const ordered: Is[] = ["above", "at_least", "below", "at_most"];
const plain: Is[] = ["is", "is_not"];
const known: Is[] = ["answered", "empty"];

/** How answers of a kind can be compared. */
export function comparisons(q: Question): Is[] {
  switch (q.kind) {
    case "yesno":
    case "choice":
      return [...plain, ...known];
    case "several":
      return ["has", ...known];
    case "number":
    case "reading":
    case "computed":
    case "area":
    case "part":
    case "date":
    case "datetime":
      return [...plain, ...ordered, ...known];
    case "photo":
      return [...ordered, ...known];
    case "text":
    case "scan":
      return [...plain, ...known];
  }
  return known;
}

interface OperandProps {
  question: Question;
  is: Is;
  value?: string;
  label: string;
  onChange: (v: string) => void;
}

export function Operand({ question: q, is, value, label, onChange }: OperandProps) {
  const { t } = useTranslation();
  if (is === "answered" || is === "empty") return null;
  const options = q.kind === "yesno" ? ["yes", "no"].map((id) => ({ id, text: t(`checks.${id as "yes"}`) })) : q.options;
  if (options && (q.kind === "yesno" || q.kind === "choice" || q.kind === "several")) {
    return (
      <select value={value ?? ""} aria-label={label} onChange={(e) => onChange(e.target.value)}>
        <option value="" />
        {options.map((o) => (
          <option key={o.id} value={o.id}>
            {o.text}
          </option>
        ))}
      </select>
    );
  }
  return (
    <span className="operand">
      <input
        type={q.kind === "date" ? "date" : q.kind === "datetime" ? "datetime-local" : "text"}
        value={value ?? ""}
        aria-label={label}
        onChange={(e) => onChange(e.target.value)}
        size={8}
      />
      <span className="small quiet">{q.unit}</span>
    </span>
  );
}

interface Props {
  label: string;
  sheet: Sheet;
  section: number;
  /** the question the rule is of: it can't ask itself */
  self?: string;
  value?: Condition;
  onChange: (c?: Condition) => void;
}

/** A condition: all or any of some tests of other answers. */
export function ConditionEditor({ label, sheet, section, self, value, onChange }: Props) {
  const { t } = useTranslation();
  const others = questionsOf(sheet).filter((q) => q.id !== self && q.kind !== "instruction" && (self || !sheet.sections[section].questions.includes(q)));
  const tests = value?.tests ?? [];
  const put = (list: SheetTest[]) => onChange(list.length > 0 ? { any: value?.any, tests: list } : undefined);
  const first = others[0];
  return (
    <fieldset className="rules">
      <legend>{label}</legend>
      {tests.length > 1 && (
        <select value={value?.any ? "any" : "all"} aria-label={label} onChange={(e) => onChange({ any: e.target.value === "any" || undefined, tests })}>
          <option value="all">{t("rule.all")}</option>
          <option value="any">{t("rule.any")}</option>
        </select>
      )}
      {tests.map((test, i) => {
        const q = others.find((o) => o.id === test.question);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: tests are told apart by their place
          <div key={i} className="rule">
            <select
              value={test.question}
              aria-label={t("rule.question")}
              onChange={(e) => put(tests.map((x, n) => (n === i ? { question: e.target.value, is: "answered" } : x)))}
            >
              {!q && <option value={test.question}>{test.question}</option>}
              {others.map((o) => (
                <option key={o.id} value={o.id}>
                  {o.text || o.id}
                </option>
              ))}
            </select>
            {q && (
              <>
                <IsMenu question={q} value={test.is} onChange={(is) => put(tests.map((x, n) => (n === i ? { ...x, is } : x)))} />
                <Operand
                  question={q}
                  is={test.is}
                  value={test.value}
                  label={t("rule.value")}
                  onChange={(v) => put(tests.map((x, n) => (n === i ? { ...x, value: v || undefined } : x)))}
                />
              </>
            )}
            <button type="button" className="link small" onClick={() => put(tests.filter((_, n) => n !== i))}>
              {t("rule.remove")}
            </button>
          </div>
        );
      })}
      {first && (
        <button type="button" className="link small" onClick={() => put([...tests, { question: first.id, is: comparisons(first)[0] }])}>
          {t("rule.add")}
        </button>
      )}
    </fieldset>
  );
}

function IsMenu({ question, value, onChange }: { question: Question; value: Is; onChange: (is: Is) => void }) {
  const { t } = useTranslation();
  return (
    <select value={value} aria-label={t("rule.is")} onChange={(e) => onChange(e.target.value as Is)}>
      {comparisons(question).map((is) => (
        <option key={is} value={is}>
          {t(`is.${is}`)}
        </option>
      ))}
    </select>
  );
}

/** What follows from certain answers. */
export function TriggerEditor({ question, onChange }: { question: Question; onChange: (on?: Trigger[]) => void }) {
  const { t } = useTranslation();
  const on = question.on ?? [];
  const put = (i: number, f: Partial<Trigger>) => onChange(on.map((x, n) => (n === i ? { ...x, ...f } : x)));
  return (
    <fieldset className="rules">
      <legend>{t("designer.on")}</legend>
      {on.map((x, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rules are told apart by their place
        <div key={i} className="rule rule-on">
          <span className="rule">
            {t("rule.when")}
            <IsMenu question={question} value={x.is} onChange={(is) => put(i, { is })} />
            <Operand question={question} is={x.is} value={x.value} label={t("rule.value")} onChange={(v) => put(i, { value: v || undefined })} />
            <button type="button" className="link small" onClick={() => onChange(on.length > 1 ? on.filter((_, n) => n !== i) : undefined)}>
              {t("rule.remove")}
            </button>
          </span>
          <span className="rule">
            {(["photo", "note", "fails", "block"] as const).map((k) => (
              <label key={k} className="check">
                <input type="checkbox" checked={!!x[k]} onChange={(e) => put(i, { [k]: e.target.checked || undefined })} /> {t(`then.${k}`)}
              </label>
            ))}
          </span>
          <TextField size="small" label={t("then.hazard")} value={x.hazard ?? ""} onChange={(e) => put(i, { hazard: e.target.value || undefined })} />
          <span className="rule">
            <TextField
              size="small"
              className="grow"
              label={t("then.recommend")}
              value={x.recommend?.text ?? ""}
              onChange={(e) => put(i, { recommend: e.target.value ? { ...x.recommend, text: e.target.value } : undefined })}
            />
            {x.recommend && (
              <TextField
                size="small"
                label={t("then.part")}
                value={x.recommend.part ?? ""}
                onChange={(e) => put(i, { recommend: { ...x.recommend!, part: e.target.value.trim() || undefined, quantity: x.recommend!.quantity ?? "1" } })}
              />
            )}
          </span>
        </div>
      ))}
      <button type="button" className="link small" onClick={() => onChange([...on, { is: comparisons(question)[0] }])}>
        {t("designer.addOn")}
      </button>
    </fieldset>
  );
}
