import { useFormContext, useWatch } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { ChoiceInput } from "../../form/fields";
import css from "../Drawer.module.css";
import { useQuestion } from "../queries";
import { RecordPick } from "../record/RecordPick";
import { MachinesField } from "./MachinesField";
import { agreementChoices, type PlanForm } from "./planForm";

/** What a maintenance plan is for. */
export function TargetFields() {
  const { t } = useTranslation();
  const { setValue } = useFormContext<PlanForm>();
  const { sort, machines, siteName, agreement } = useWatch() as PlanForm;
  const agreements = useQuestion("/api/office/agreements", {}).data ?? [];
  const set = <N extends keyof PlanForm>(name: N, value: PlanForm[N]) => setValue(name as never, value as never, { shouldDirty: true });
  return (
    <fieldset className={css.group}>
      <ChoiceInput
        name="sort"
        label={t("upkeep.form.for")}
        choices={[
          ["machines", t("upkeep.form.machines")],
          ["site", t("upkeep.form.site")],
          ["agreement", t("upkeep.form.agreement")],
        ]}
      />
      {sort === "machines" && <MachinesField machines={machines} onChange={(to) => set("machines", to)} />}
      {sort === "site" && (
        <RecordPick
          type="site"
          label={t("upkeep.form.findSite")}
          name={siteName}
          onPick={(hit) => {
            set("siteId", hit?.id ?? "");
            set("siteName", hit?.title ?? "");
          }}
        />
      )}
      {sort === "agreement" && agreements.length > 0 && (
        <ChoiceInput name="agreement" label={t("upkeep.form.agreement")} choices={agreementChoices(agreements, agreement)} />
      )}
      {sort === "agreement" && agreements.length === 0 && <p className="quiet">{t("upkeep.form.noAgreements")}</p>}
    </fieldset>
  );
}
