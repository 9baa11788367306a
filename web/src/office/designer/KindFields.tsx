/** What a question needs beside its words, by its kind. */
import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Question } from "../../types";
import { typedNumber } from "../../ui/decimal";
import { say } from "../../words/i18n";
import { useKinds } from "../queries";
import { Document } from "./Document";
import { idOf, questionsOf } from "./draft";
import { Formula } from "./Formula";
import { type FieldsProps, UnitField } from "./fields";

export function KindFields(props: FieldsProps) {
  switch (props.question.kind) {
    case "choice":
    case "several":
      return <Options {...props} />;
    case "yesno":
      return <YesNoScore {...props} />;
    case "number":
      return <NumberFields {...props} />;
    case "computed":
      return <Formula {...props} />;
    case "reading":
      return <ReadingFields {...props} />;
    case "photo":
      return <Least {...props} />;
    case "part":
      return <Quantity {...props} />;
    case "text":
    case "scan":
    case "date":
      return <Prefill {...props} />;
    case "instruction":
      return <Document {...props} />;
  }
  return null;
}

/** The unit of a number, with what is wrong with it. */
const decimal = /^-?\d*[.,]?\d*$/;
const clean = (s: string) => typedNumber(s) || undefined;

/** The points of a question's answers, with those of one as they were typed. */
function scored(q: Question, answer: string, points: string): Question["score"] {
  const { [answer]: _, ...rest } = q.score ?? {};
  const next = points === "" ? rest : { ...rest, [answer]: points };
  return Object.keys(next).length > 0 ? next : undefined;
}

function Options({ question: q, problem, onChange }: FieldsProps) {
  const { t } = useTranslation();
  const options = q.options ?? [];
  const put = (i: number, text: string) => onChange({ options: options.map((o, n) => (n === i ? { ...o, text } : o)) });
  return (
    <fieldset className="rules">
      <legend>{t("designer.options")}</legend>
      {options.map((o, i) => (
        <div className="rule" key={o.id}>
          <TextField size="small" className="grow" label={t("designer.option", { n: i + 1 })} value={o.text} onChange={(e) => put(i, e.target.value)} />
          <input
            className="points"
            size={3}
            aria-label={t("designer.points", { option: o.text })}
            title={t("designer.points", { option: o.text })}
            value={q.score?.[o.id] ?? ""}
            onChange={(e) => decimal.test(e.target.value) && onChange({ score: scored(q, o.id, e.target.value) })}
          />
          <button type="button" className="link small" disabled={options.length <= 2} onClick={() => onChange({ options: options.filter((x) => x !== o) })}>
            {t("rule.remove")}
          </button>
        </div>
      ))}
      <button
        type="button"
        className="link small"
        onClick={() =>
          onChange({
            options: [
              ...options,
              {
                id: idOf(
                  `o${options.length + 1}`,
                  options.map((o) => o.id),
                ),
                text: t("designer.option", { n: options.length + 1 }),
              },
            ],
          })
        }
      >
        {t("designer.addOption")}
      </button>
      {problem("options") && <p className="editor-problem">{say(problem("options")!)}</p>}
    </fieldset>
  );
}

function YesNoScore({ question: q, onChange }: FieldsProps) {
  const { t } = useTranslation();
  return (
    <div className="editor-row">
      {(["yes", "no"] as const).map((id) => (
        <TextField
          key={id}
          label={t("designer.points", { option: t(`checks.${id}`) })}
          value={q.score?.[id] ?? ""}
          onChange={(e) => decimal.test(e.target.value) && onChange({ score: scored(q, id, e.target.value) })}
        />
      ))}
    </div>
  );
}

function NumberFields({ question: q, sheet, problem, onChange }: FieldsProps) {
  const { t } = useTranslation();
  const others = questionsOf(sheet).filter((o) => o.id !== q.id && o.kind === "number");
  const c = q.compare?.[0];
  return (
    <>
      <div className="editor-row">
        <UnitField question={q} problem={problem} onChange={onChange} />
        <TextField
          label={t("designer.min")}
          value={q.min ?? ""}
          onChange={(e) => decimal.test(e.target.value) && onChange({ min: clean(e.target.value) })}
          error={!!problem("min")}
        />
        <TextField label={t("designer.max")} value={q.max ?? ""} onChange={(e) => decimal.test(e.target.value) && onChange({ max: clean(e.target.value) })} />
      </div>
      {others.length > 0 && (
        <span className="rule">
          <select
            value={c?.is ?? ""}
            aria-label={t("designer.compare")}
            onChange={(e) => onChange({ compare: e.target.value ? [{ is: e.target.value as "above", question: c?.question ?? others[0].id }] : undefined })}
          >
            <option value="">{t("designer.noCompare")}</option>
            {(["above", "at_least", "below", "at_most"] as const).map((is) => (
              <option key={is} value={is}>
                {t("designer.mustBe", { is: t(`is.${is}`) })}
              </option>
            ))}
          </select>
          {c && (
            <select value={c.question} aria-label={t("rule.question")} onChange={(e) => onChange({ compare: [{ ...c, question: e.target.value }] })}>
              {others.map((o) => (
                <option key={o.id} value={o.id}>
                  {o.text || o.id}
                </option>
              ))}
            </select>
          )}
        </span>
      )}
    </>
  );
}

function ReadingFields({ question: q, problem, onChange }: FieldsProps) {
  const { t } = useTranslation();
  const points = [...new Map((useKinds().data ?? []).flatMap((k) => (k.kind.points ?? []).map((p) => [p.id, p] as const))).values()];
  return (
    <TextField
      select
      label={t("designer.point")}
      value={points.some((p) => p.id === q.point) ? q.point : ""}
      onChange={(e) => onChange({ point: e.target.value, unit: points.find((p) => p.id === e.target.value)?.unit })}
      error={!!problem("point")}
      helperText={problem("point") && say(problem("point")!)}
    >
      {points.map((p) => (
        <MenuItem key={p.id} value={p.id}>
          {p.name} ({p.unit})
        </MenuItem>
      ))}
    </TextField>
  );
}

function Least({ question: q, onChange }: FieldsProps) {
  const { t } = useTranslation();
  return (
    <TextField
      label={t("designer.leastPhotos")}
      value={q.least ?? ""}
      onChange={(e) => /^\d{0,2}$/.test(e.target.value) && onChange({ least: Number(e.target.value) || undefined })}
    />
  );
}

function Quantity({ question: q, sheet, onChange }: FieldsProps) {
  const { t } = useTranslation();
  const sources = questionsOf(sheet).filter((o) => ["number", "area", "computed"].includes(o.kind));
  return (
    <TextField select label={t("designer.quantity")} value={q.quantity ?? ""} onChange={(e) => onChange({ quantity: e.target.value || undefined })}>
      <MenuItem value="">{t("designer.quantityTyped")}</MenuItem>
      {sources.map((o) => (
        <MenuItem key={o.id} value={o.id}>
          {o.text || o.id}
        </MenuItem>
      ))}
    </TextField>
  );
}

const paths = [
  "order.number",
  "order.problem",
  "customer.name",
  "customer.contact.name",
  "site.name",
  "site.address",
  "site.access",
  "site.hazard",
  "site.contact.name",
  "site.contact.phone",
  "asset.name",
  "asset.maker",
  "asset.serial",
  "asset.installed",
];
const writable = ["site.access", "site.hazard", "site.contact.name", "site.contact.phone", "asset.name", "asset.maker", "asset.serial", "asset.installed"];

function Prefill({ question: q, onChange }: FieldsProps) {
  const { t } = useTranslation();
  return (
    <div className="editor-row">
      <TextField
        select
        label={t("designer.prefill")}
        value={q.prefill ?? ""}
        onChange={(e) => onChange({ prefill: e.target.value || undefined, update: undefined })}
      >
        <MenuItem value="">{t("designer.noPrefill")}</MenuItem>
        <MenuItem value="last">{t("prefill.last")}</MenuItem>
        {paths.map((p) => (
          <MenuItem key={p} value={p}>
            {t(`prefill.${p as "order.number"}`)}
          </MenuItem>
        ))}
      </TextField>
      {q.prefill && writable.includes(q.prefill) && (
        <label className="check">
          <input type="checkbox" checked={!!q.update} onChange={(e) => onChange({ update: e.target.checked || undefined })} /> {t("designer.update")}
        </label>
      )}
    </div>
  );
}
