import { MenuItem, TextField } from "@mui/material";
import { useFormContext, useWatch } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { ChoiceInput, NumberInput, SaveButton, SeveralInput, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import type { UpkeepPage } from "../../types";
import { SideDrawer } from "../../ui/SideDrawer";
import css from "../Drawer.module.css";
import { Failure, useCommands, useQuestion, useSettings, useSheets } from "../queries";
import { NeedsField, needsFine } from "../stores/NeedsField";
import { useThings } from "../things";
import { blankPlan, formOf, lacking, type PlanForm, saving, work } from "./planForm";
import { TargetFields } from "./TargetFields";
import { WhenFields } from "./WhenFields";

interface Props {
  page?: UpkeepPage;
  /** what a new plan is for */
  target?: { type: string; id: string; name: string };
  onClose: (saved?: string) => void;
}

/** Makes a maintenance plan, or changes one. */
export function EditPlan({ page, target, onClose }: Props) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm<PlanForm>(`upkeep ${page?.id ?? target?.id ?? ""}`, page ? formOf(page.plan, page.targets) : blankPlan(target));
  const save = (v: PlanForm, saved: () => void) => {
    const id = page?.id ?? commands.idOf("upkeep");
    const draft = saving(v, id, page?.plan);
    const done = () => {
      saved();
      onClose(id);
    };
    if (draft) commands.mutate([draft], { onSuccess: done });
    else done();
  };
  return (
    <SideDrawer title={t(page ? "upkeep.change" : "upkeep.new")} draft={form} onClose={() => onClose()}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="name" label={t("upkeep.form.name")} required max={100} />
        <TargetFields />
        <WorkFields />
        <WhenFields />
        <Failure error={commands.error} />
        <Save busy={commands.isPending} />
      </Form>
    </SideDrawer>
  );
}

function Save({ busy }: { busy: boolean }) {
  const { t } = useTranslation();
  const form = useWatch() as PlanForm;
  return <SaveButton busy={busy || lacking(form) || !needsFine(form.needs)}>{t("records.save")}</SaveButton>;
}

/** What is done each time. */
function WorkFields() {
  const { t } = useTranslation();
  const { setValue } = useFormContext<PlanForm>();
  const needs = useWatch<PlanForm, "needs">({ name: "needs" });
  const ready = useQuestion("/api/office/templates", {}).data ?? [];
  const settings = useSettings().data;
  const sheets = (useSheets().data ?? []).filter((s) => s.version > 0);
  const things = useThings();
  const named = (list: { id: string; text: string }[]) => list.map((x) => [x.id, x.text] as const);
  const minutes = (v: string) => (Number(v) >= 1 && Number(v) <= 20160 ? undefined : t("upkeep.form.wrongMinutes"));
  const take = (id: string) => {
    const found = ready.find((x) => x.id === id);
    for (const [name, value] of Object.entries(found ? work(found.work) : {}))
      setValue(name as keyof PlanForm, value, { shouldDirty: true, shouldValidate: true });
  };
  return (
    <fieldset className={css.group}>
      <legend>{t("upkeep.form.work")}</legend>
      {ready.length > 0 && (
        <TextField select label={t("upkeep.form.take")} value="" onChange={(e) => take(e.target.value)}>
          {ready.map((x) => (
            <MenuItem key={x.id} value={x.id}>
              {x.work.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextInput name="problem" label={t("upkeep.form.problem")} required lines={2} max={5000} />
      <TextInput name="tasks" label={t("upkeep.form.tasks")} lines={2} max={5000} />
      <div className="pair">
        <NumberInput name="minutes" label={t("upkeep.form.minutes")} kind="positive" required check={minutes} />
        <ChoiceInput name="kind" label={t("upkeep.form.kind")} choices={[["", "–"], ...named(settings?.orders.works ?? [])]} />
      </div>
      <div className="pair">
        <NumberInput name="crew" label={t("intake.crew")} kind="positive" />
        {things.length > 0 && <SeveralInput name="things" label={t("board.things")} choices={named(things)} />}
      </div>
      <SeveralInput name="skills" label={t("upkeep.form.skills")} choices={named(settings?.orders.skills ?? [])} />
      <SeveralInput name="sheets" label={t("upkeep.form.sheets")} choices={sheets.map((s) => [`${s.id}@${s.version}`, s.title] as const)} />
      <NeedsField needs={needs} onChange={(to) => setValue("needs", to, { shouldDirty: true })} />
    </fieldset>
  );
}
