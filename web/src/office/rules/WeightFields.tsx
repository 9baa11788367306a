import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Weights } from "../../types";
import css from "./RuleLines.module.css";

/** As the core has them when a company says nothing. */
const usual: Weights = { late: 4, overtime: 2, after: 1, shut: 4, elsewhere: 15, parts: 20, asked: 30, knows: 5, hour: 1, even: 5 };

const times = ["late", "overtime", "after", "shut"] as const;
const minutes = ["elsewhere", "parts", "asked", "knows", "hour", "even"] as const;

/** The most that something can weigh, as the core has it. */
const most = (name: keyof Weights) => (times.some((x) => x === name) ? 100 : 1440);

export const weightsFine = (w?: Weights) => !w || [...times, ...minutes].every((n) => w[n] >= 0 && w[n] <= most(n));

interface Props {
  weights?: Weights;
  disabled: boolean;
  onChange: (to?: Weights) => void;
}

/** What counts how much beside driving, when a place for a visit is looked for. */
export function WeightFields({ weights, disabled, onChange }: Props) {
  const { t } = useTranslation();
  const now = { ...usual, ...weights };
  const field = (name: keyof Weights) => (
    <TextField
      key={name}
      type="number"
      size="small"
      label={t(`weights.${name}`)}
      value={now[name]}
      disabled={disabled}
      error={now[name] < 0 || now[name] > most(name)}
      onChange={(e) => onChange({ ...now, [name]: Math.round(Number(e.target.value)) || 0 })}
      slotProps={{ htmlInput: { min: 0, max: most(name) }, inputLabel: { shrink: true } }}
    />
  );
  return (
    <section className="sec" aria-label={t("weights.title")}>
      <h2>{t("weights.title")}</h2>
      <p className="small quiet">{t("weights.hint")}</p>
      <h3 className={css.over}>{t("weights.times")}</h3>
      <div className={css.fields}>{times.map(field)}</div>
      <h3 className={css.over}>{t("weights.minutes")}</h3>
      <div className={css.fields}>{minutes.map(field)}</div>
      {weights && !disabled && (
        <button type="button" className="link small" onClick={() => onChange(undefined)}>
          {t("weights.usual")}
        </button>
      )}
    </section>
  );
}
