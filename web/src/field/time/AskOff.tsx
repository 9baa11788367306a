import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { useDraft } from "../../draft/draft";
import { AbsenceFields, absenceBody, absenceReady, noAbsence } from "../../form/AbsenceFields";
import type { OffTime } from "../../types";
import { absenceText, absenceWhy } from "../../ui/absence";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { isoDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice, useRecord, useSettings } from "../device";

/** Asks to be off, and shows what became of it. */
export default function AskOff({ onClose }: { onClose: () => void }) {
  const { t } = useTranslation();
  const { db, me, tell } = useDevice();
  const record = useRecord();
  const reasons = useSettings()?.planning.absences ?? [];
  const draft = useDraft("ask off", noAbsence);
  const v = draft.value;
  const today = isoDate(Date.now());
  const all = useLive(db, (d) => d.body("absences", me.id), [me.id])?.list ?? [];
  const shown = all.filter((a) => !a.struck && a.state !== "withdrawn" && a.to >= today).sort((a, b) => a.from.localeCompare(b.from));
  const subject = { type: "absences", id: me.id };
  const ask = async () => {
    if (!(await record("absence.asked", subject, absenceBody(v)))) return;
    draft.clear();
    tell(t("absence.sent"));
  };
  return (
    <ChoiceDrawer title={t("absence.ask")} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        {shown.map((a) => (
          <Line key={a.entry} absence={a} why={absenceWhy(reasons, a)} onDrop={() => void record("absence.withdrawn", subject, { absence: a.entry })} />
        ))}
        <AbsenceFields value={v} reasons={reasons} onChange={draft.change} />
      </div>
      <Button variant="contained" disabled={!absenceReady(v)} onClick={ask}>
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
