import { useWatch } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { ChoiceInput, DateInput, NumberInput, SeveralInput, TextInput } from "../../form/fields";
import css from "../Drawer.module.css";
import { useKinds } from "../queries";
import type { PlanForm } from "./planForm";
import { monthName, months, turns, units, weekdayName, weekdays } from "./rule";

/** When the work of a maintenance plan comes back. */
export function WhenFields() {
  const { t } = useTranslation();
  const { by } = useWatch() as PlanForm;
  const days = (v: string) => (/^\d+$/.test(v) && Number(v) <= 400 ? undefined : t("upkeep.form.wrongDays"));
  return (
    <fieldset className={css.group}>
      <legend>{t("upkeep.form.when")}</legend>
      <ChoiceInput
        name="by"
        label={t("upkeep.form.by")}
        choices={[
          ["date", t("upkeep.form.byDate")],
          ["counter", t("upkeep.form.byCounter")],
          ["both", t("upkeep.form.byBoth")],
        ]}
      />
      {by !== "counter" && <DateRule />}
      {by !== "date" && <Counter />}
      {by !== "both" && (
        <ChoiceInput
          name="counted"
          label={t("upkeep.form.counted")}
          choices={[
            ["plan", t("upkeep.form.fromPlan")],
            ["last", t("upkeep.form.fromLast")],
          ]}
        />
      )}
      <div className="pair">
        <DateInput name="begin" label={t("upkeep.form.begin")} required />
        <DateInput name="end" label={t("upkeep.form.end")} />
      </div>
      <div className="pair">
        <NumberInput name="before" label={t("upkeep.form.before")} kind="quantity" required check={days} />
        <NumberInput name="after" label={t("upkeep.form.after")} kind="quantity" required check={days} />
      </div>
      <NumberInput name="ahead" label={t("upkeep.form.ahead")} kind="quantity" required check={days} />
    </fieldset>
  );
}

function DateRule() {
  const { t } = useTranslation();
  const { unit, nth } = useWatch() as PlanForm;
  const every = (v: string) => (/^\d+$/.test(v) && Number(v) >= 1 && Number(v) <= 1000 ? undefined : t("upkeep.form.wrongEvery"));
  const unitChoices = [...units, "own" as const].map((u) => [u, t(`upkeep.unit.${u}`)] as const);
  if (unit === "own")
    return (
      <div className="pair">
        <TextInput name="rule" label={t("upkeep.form.rule")} required max={200} />
        <ChoiceInput name="unit" label={t("upkeep.form.unit")} choices={unitChoices} />
      </div>
    );
  return (
    <>
      <div className="pair">
        <NumberInput name="every" label={t("upkeep.form.every")} kind="positive" required check={every} />
        <ChoiceInput name="unit" label={t("upkeep.form.unit")} choices={unitChoices} />
      </div>
      {unit === "WEEKLY" && <SeveralInput name="days" label={t("upkeep.form.weekdays")} choices={weekdays.map((d) => [d, weekdayName(d)] as const)} />}
      {unit === "MONTHLY" && (
        <div className="pair">
          <ChoiceInput
            name="nth"
            label={t("upkeep.form.on")}
            choices={[["", t("upkeep.form.onDay")], ...turns.map((n) => [n, t(`upkeep.nth.${n}`)] as const)]}
          />
          {nth && <ChoiceInput name="weekday" label={t("upkeep.form.weekday")} choices={weekdays.map((d) => [d, weekdayName(d)] as const)} />}
        </div>
      )}
      {unit !== "YEARLY" && <SeveralInput name="months" label={t("upkeep.form.months")} choices={months.map((m) => [m, monthName(m)] as const)} />}
    </>
  );
}

/** Counters are those of the kinds of machines: one by its name, where several kinds have it. */
function Counter() {
  const { t } = useTranslation();
  const points = (useKinds().data ?? []).flatMap((k) => k.kind.points ?? []).filter((p) => p.counter);
  const choices = [...new Map(points.map((p) => [p.id, [p.id, `${p.name} (${p.unit})`] as const])).values()];
  return (
    <div className="pair">
      <ChoiceInput name="point" label={t("upkeep.form.point")} required choices={choices} />
      <NumberInput name="counterEvery" label={t("upkeep.form.counterEvery")} kind="positive" required />
    </div>
  );
}
