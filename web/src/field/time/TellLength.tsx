import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useOnce } from "../../ui/useOnce";
import { useDevice, useRecord } from "../device";
import { choicesOf } from "./choices";
import type { Named } from "./day";
import { useUsualSort } from "./usualSort";

const usual = [15, 30, 45, 60, 90, 120];
const longest = 16 * 60;

/** How long somebody was at something on a day, without begin and end. */
export default function TellLength({ named, onClose }: { named: Named; onClose: () => void }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const usualSort = useUsualSort();
  const { date } = named.day;
  const choices = choicesOf(named, t).filter((c) => c.what.kind !== "break" && c.what.kind !== "off");
  const draft = useDraft(`length ${date}`, { what: choices[0]?.id ?? "", minutes: "", text: "" });
  const { minutes, text } = draft.value;
  const choice = choices.find((c) => c.id === draft.value.what) ?? choices[0];
  const count = /^\d+$/.test(minutes) ? Number(minutes) : 0;
  const fine = choice && count > 0 && count <= longest;
  const save = useOnce(async () => {
    if (!choice) return;
    const body = { ...choice.what, minutes: count, sort: choice.what.kind === "work" ? usualSort : undefined, text: text.trim() || undefined };
    if (!(await record("time.told", { type: "timecard", id: `${me.id}+${date}` }, body))) return;
    draft.clear();
    onClose();
  });
  return (
    <ChoiceDrawer title={t("length.title")} draft={draft} onClose={onClose}>
      <div className="form-stack">
        <p className="small quiet">{t("length.hint")}</p>
        <TextField select label={t("fix.what")} value={choice?.id ?? ""} onChange={(e) => draft.change({ what: e.target.value })}>
          {choices.map((c) => (
            <MenuItem key={c.id} value={c.id}>
              {c.text}
            </MenuItem>
          ))}
        </TextField>
        <div className="options">
          {usual.map((n) => (
            <button type="button" key={n} aria-pressed={count === n} onClick={() => draft.change({ minutes: String(n) })}>
              {t("length.minutes", { count: n })}
            </button>
          ))}
        </div>
        <TextField
          label={t("length.count")}
          value={minutes}
          error={minutes !== "" && (count < 1 || count > longest)}
          helperText={minutes !== "" && (count < 1 || count > longest) ? t("code.time.minutes") : undefined}
          onChange={(e) => draft.change({ minutes: e.target.value.trim() })}
          slotProps={{ htmlInput: { inputMode: "numeric", autoComplete: "off" } }}
        />
        <TextField
          label={t("describe.text")}
          value={text}
          onChange={(e) => draft.change({ text: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 500, autoComplete: "off" } }}
        />
        <Button variant="contained" fullWidth disabled={!fine} onClick={() => save()}>
          {t("records.save")}
        </Button>
      </div>
    </ChoiceDrawer>
  );
}
