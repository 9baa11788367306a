import { Button, Checkbox, FormControlLabel, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { DateField, TimeField } from "../../form/dates";
import type { Outcome, VisitView } from "../../types";
import { isoDate } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands } from "../queries";
import { NeedsField, needsFine } from "../stores/NeedsField";
import { usePlaces } from "../stores/queries";
import css from "./Phoned.module.css";
import { blank, entriesOf, type PhonedIn, wrong } from "./phoned";

const outcomes: Outcome[] = ["complete", "return_needed", "no_access", "not_needed"];

/** Writes down what a technician tells by telephone: times, tasks, parts, readings, a note, how it ended; all of it or a part. */
export function PhonedDrawer({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const { visit } = view;
  const start = { ...blank, person: visit.technician, date: isoDate(Math.min(Date.parse(visit.start), Date.now())) };
  const draft = useDraft<PhonedIn>(`phoned ${view.id}`, start);
  const told = draft.value;
  const places = usePlaces().data ?? [];
  const place = (places.find((p) => p.person === told.person) ?? places.find((p) => p.kind === "store"))?.id ?? "";
  const why = wrong(told, Date.now());
  const people = [visit.technician, ...(visit.helpers ?? [])];
  const onSuccess = () => {
    draft.clear();
    onClose();
  };
  const save = () => commands.mutate(entriesOf(told, view, place, Date.now()), { onSuccess });
  const clock = (field: "setOff" | "arrived" | "breakFrom" | "breakTo" | "finished") => (
    <TimeField label={t(`phoned.${field}`)} value={told[field]} onChange={(v) => draft.change({ [field]: v })} />
  );
  return (
    <SideDrawer title={t("phoned.title")} about={t("phoned.hint")} draft={draft} onClose={onClose}>
      <form
        className={css.form}
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        <div className={css.row}>
          <TextField select label={t("phoned.who")} value={told.person} onChange={(e) => draft.change({ person: e.target.value })}>
            {people.map((p) => (
              <MenuItem key={p} value={p}>
                {view.names[p] ?? p}
              </MenuItem>
            ))}
          </TextField>
          <DateField label={t("phoned.date")} value={told.date} onChange={(date) => draft.change({ date })} />
        </div>
        <div className={css.row}>
          {clock("setOff")}
          {clock("arrived")}
        </div>
        <div className={css.row}>
          {clock("breakFrom")}
          {clock("breakTo")}
        </div>
        <Tasks view={view} told={told} onChange={(done) => draft.change({ done })} />
        <NeedsField needs={told.parts} legend={t("phoned.parts")} onChange={(parts) => draft.change({ parts })} />
        <Readings view={view} told={told} onChange={(readings) => draft.change({ readings })} />
        <TextField
          label={t("phoned.note")}
          value={told.note}
          multiline
          minRows={2}
          onChange={(e) => draft.change({ note: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 10_000 } }}
        />
        <div className={css.row}>
          {clock("finished")}
          <TextField select label={t("phoned.outcome")} value={told.outcome} onChange={(e) => draft.change({ outcome: e.target.value as Outcome })}>
            <MenuItem value="">{t("phoned.stillOn")}</MenuItem>
            {outcomes.map((o) => (
              <MenuItem key={o} value={o}>
                {t(`outcome.${o}`)}
              </MenuItem>
            ))}
          </TextField>
        </div>
        {told.outcome && told.outcome !== "complete" && (
          <TextField label={t("strike.why")} value={told.reason} onChange={(e) => draft.change({ reason: e.target.value })} />
        )}
        {why && draft.begun && (
          <p className="small" role="status">
            {t(`code.${why}`)}
          </p>
        )}
        <Failure error={commands.error} />
        <Button type="submit" variant="contained" disabled={!!why || !needsFine(told.parts) || commands.isPending}>
          {t("phoned.save")}
        </Button>
      </form>
    </SideDrawer>
  );
}

function Tasks({ view, told, onChange }: { view: VisitView; told: PhonedIn; onChange: (done: string[]) => void }) {
  const { t } = useTranslation();
  const open = view.tasks.filter((x) => x.act !== "done");
  if (open.length === 0) return null;
  return (
    <fieldset className={css.group}>
      <legend className="small quiet">{t("phoned.tasks")}</legend>
      {open.map((task) => (
        <FormControlLabel
          key={task.id}
          label={task.name}
          control={
            <Checkbox
              checked={told.done.includes(task.id)}
              onChange={(e) => onChange(e.target.checked ? [...told.done, task.id] : told.done.filter((x) => x !== task.id))}
            />
          }
        />
      ))}
    </fieldset>
  );
}

function Readings({ view, told, onChange }: { view: VisitView; told: PhonedIn; onChange: (readings: Record<string, string>) => void }) {
  const { t } = useTranslation();
  const points = view.machines.flatMap((m) => m.points.map((p) => ({ key: `${m.id}/${p.id}`, name: p.name, unit: p.unit, machine: m.asset.name })));
  if (points.length === 0) return null;
  return (
    <details className={css.group} open={Object.keys(told.readings).length > 0}>
      <summary>{t("phoned.readings")}</summary>
      <div className={css.points}>
        {points.map((p) => (
          <TextField
            key={p.key}
            label={`${p.name}, ${p.unit}`}
            helperText={view.machines.length > 1 ? p.machine : undefined}
            value={told.readings[p.key] ?? ""}
            onChange={(e) => onChange({ ...told.readings, [p.key]: e.target.value })}
            slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off" } }}
          />
        ))}
      </div>
    </details>
  );
}
