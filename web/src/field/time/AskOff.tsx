import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { useDraft } from "../../draft/draft";
import { DateField, TimeField } from "../../form/dates";
import type { OffTime } from "../../types";
import { absenceText, absenceWhy } from "../../ui/absence";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { isoDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice, useRecord, useSettings } from "../device";

const blank = { from: "", to: "", begin: "", end: "", why: "", note: "" };

/** Asks to be off, and shows what became of it. */
export default function AskOff({ onClose }: { onClose: () => void }) {
  const { t } = useTranslation();
  const { db, me, tell } = useDevice();
  const record = useRecord();
  const reasons = useSettings()?.planning.absences ?? [];
  const draft = useDraft("ask off", blank);
  const v = draft.value;
  const today = isoDate(Date.now());
  const all = useLive(db, (d) => d.body("absences", me.id), [me.id])?.list ?? [];
  const shown = all.filter((a) => !a.struck && a.state !== "withdrawn" && a.to >= today).sort((a, b) => a.from.localeCompare(b.from));
  const subject = { type: "absences", id: me.id };
  const ask = async () => {
    const { note, ...off } = { ...v, to: v.to || v.from };
    const body = Object.fromEntries(Object.entries({ ...off, note }).filter(([, x]) => x !== "")) as { from: string; to: string };
    if (!(await record("absence.asked", subject, body))) return;
    draft.clear();
    tell(t("absence.sent"));
  };
  return (
    <ChoiceDrawer title={t("absence.ask")} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        {shown.map((a) => (
          <Line key={a.entry} absence={a} why={absenceWhy(reasons, a)} onDrop={() => void record("absence.withdrawn", subject, { absence: a.entry })} />
        ))}
        <DateField label={t("absence.from")} value={v.from} onChange={(from) => draft.change({ from })} />
        <DateField label={t("absence.to")} value={v.to} onChange={(to) => draft.change({ to })} />
        <TimeField label={t("absence.begin")} value={v.begin} onChange={(begin) => draft.change({ begin })} />
        <TimeField label={t("absence.end")} value={v.end} onChange={(end) => draft.change({ end })} />
        {reasons.length > 0 && (
          <TextField select label={t("absence.why")} value={v.why} onChange={(e) => draft.change({ why: e.target.value })}>
            <MenuItem value="">{t("absence.noWhy")}</MenuItem>
            {reasons.map((r) => (
              <MenuItem key={r.id} value={r.id}>
                {r.text}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          label={t("absence.note")}
          value={v.note}
          multiline
          onChange={(e) => draft.change({ note: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 500 } }}
        />
      </div>
      <Button variant="contained" disabled={!v.from || (v.to !== "" && v.to < v.from)} onClick={ask}>
        {t("absence.askIt")}
      </Button>
    </ChoiceDrawer>
  );
}

function Line({ absence: a, why, onDrop }: { absence: OffTime; why: string; onDrop: () => void }) {
  const { t } = useTranslation();
  return (
    <div className="line">
      <span className="grow">
        <b>{absenceText(a)}</b> {why}
        <span className="block">
          <Tag kind={a.state === "granted" ? "good" : a.state === "declined" ? "bad" : "warn"}>{t(`absence.${a.state}`)}</Tag>
        </span>
        {a.text && <span className="small quiet block">{a.text}</span>}
      </span>
      {a.state !== "declined" && (
        <button type="button" className="link" onClick={onDrop}>
          {t("absence.drop")}
        </button>
      )}
    </div>
  );
}
