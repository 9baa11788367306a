import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { useDraft } from "../../draft/draft";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useDevice, useRecord } from "../device";

/** A step that is to be done as well, on the order's machine or another at the site. */
export default function AddTask({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const record = useRecord();
  const { site, asset: own } = view.order;
  const draft = useDraft(`step ${view.id}`, { name: "", asset: "" });
  const { name, asset } = draft.value;
  const machines = useLive(db, async (db) => (await db.all("asset")).filter((a) => a.body.site === site && !a.body.removed && !a.body.struck), [site]) ?? [];
  const add = async () => {
    if (!(await record("task.added", view.id, { order: view.visit.order, name: name.trim(), asset: asset || undefined }))) return;
    draft.clear();
    onClose();
  };
  return (
    <ChoiceDrawer title={t("tasks.add")} draft={draft} onClose={onClose}>
      <div className="form-stack">
        <TextField
          label={t("found.problem")}
          value={name}
          onChange={(e) => draft.change({ name: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
        />
        <TextField select label={t("visit.asset")} value={asset} onChange={(e) => draft.change({ asset: e.target.value })}>
          <MenuItem value="">{t(own ? "tasks.sameMachine" : "found.noMachine", { machine: view.asset?.name })}</MenuItem>
          {machines
            .filter((m) => m.id !== own)
            .map((m) => (
              <MenuItem key={m.id} value={m.id}>
                {m.body.name}
              </MenuItem>
            ))}
        </TextField>
      </div>
      <Button variant="contained" fullWidth disabled={!name.trim()} onClick={() => void add()}>
        {t("tasks.addThis")}
      </Button>
    </ChoiceDrawer>
  );
}
