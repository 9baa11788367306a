import { Button, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { rightTo, useMay } from "../../session/session";
import type { Template } from "../../types";
import { typedNumber } from "../../ui/decimal";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands, useQuestion } from "../queries";
import { type Call, crewOf, minutesOf } from "./call";
import css from "./Intake.module.css";

/** What ready-made work says of a call. */
export const taken = (w: Template): Partial<Call> => ({
  problem: w.problem,
  kind: w.kind ?? "",
  tasks: (w.tasks ?? []).join("\n"),
  minutes: String(w.minutes),
  skills: w.skills ?? [],
  crew: w.crew ? String(w.crew) : "",
  things: w.things ?? [],
  needs: w.needs ?? [],
  sheets: w.sheets?.length ? w.sheets : undefined,
});

/** A call as ready-made work, under a name. */
export const kept = (call: Call, name: string): Template => ({
  name,
  problem: call.problem.trim(),
  kind: call.kind || undefined,
  tasks: call.tasks
    .split("\n")
    .map((x) => x.trim())
    .filter(Boolean),
  minutes: minutesOf(call),
  skills: call.skills,
  crew: crewOf(call.crew),
  things: call.things,
  needs: call.needs.map((n) => ({ ...n, quantity: typedNumber(n.quantity) })),
  sheets: call.sheets,
});

/** Ready-made work: taken for a call, or kept from one. */
export function ReadyMade({ call, change }: { call: Call; change: (patch: Partial<Call>) => void }) {
  const { t } = useTranslation();
  const all = useQuestion("/api/office/templates", {}).data ?? [];
  const [keeping, setKeeping] = useState(false);
  const may = useMay(rightTo("record.created", "template"));
  const fine = call.problem.trim() !== "" && minutesOf(call) > 0;
  if (all.length === 0 && !may) return null;
  return (
    <div className={css.ready}>
      {all.length > 0 && (
        <TextField
          select
          label={t("template.take")}
          value=""
          onChange={(e) => {
            const found = all.find((x) => x.id === e.target.value);
            if (found) change(taken(found.work));
          }}
        >
          {all.map((x) => (
            <MenuItem key={x.id} value={x.id}>
              {x.work.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {may && (
        <Button size="small" disabled={!fine} onClick={() => setKeeping(true)}>
          {t("template.keep")}
        </Button>
      )}
      {keeping && <Keep call={call} onClose={() => setKeeping(false)} />}
    </div>
  );
}

function Keep({ call, onClose }: { call: Call; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm("ready-made work", { name: "" });
  const save = ({ name }: { name: string }, saved: () => void) =>
    commands.mutate([{ kind: "record.created", subject: { type: "template", id: commands.idOf("template") }, body: kept(call, name.trim()) }], {
      onSuccess: () => {
        saved();
        onClose();
      },
    });
  return (
    <SideDrawer title={t("template.keep")} about={t("template.hint")} draft={form} onClose={onClose}>
      <Form form={form} onSave={save}>
        <TextInput name="name" label={t("template.name")} required max={100} />
        <Failure error={commands.error} />
        <p>
          <SaveButton busy={commands.isPending}>{t("records.save")}</SaveButton>
        </p>
      </Form>
    </SideDrawer>
  );
}
