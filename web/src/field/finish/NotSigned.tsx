import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { where } from "../../device/record";
import { useDraft } from "../../draft/draft";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { OwnReason } from "../../ui/OwnReason";
import { absenceReasons } from "../../ui/reasons";
import { useRecord, useSettings } from "../device";
import { PhotoAdd, PhotoList } from "../visit/PhotoStrip";

/** Nobody there, or they don't want to: the reason instead of a signature, and a photo of it. */
export default function NotSigned({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const settings = useSettings();
  const draft = useDraft(`absent ${view.id}`, { name: "" });
  const { name } = draft.value;
  const [said, setSaid] = useState("");
  const reasons = absenceReasons(settings);
  const save = async (reason: string) => {
    const entry = await record("signoff.missed", view.id, { reason, name: name.trim() || undefined, where: where() });
    if (!entry) return false;
    draft.clear();
    setSaid(entry);
    return true;
  };
  if (said) {
    return (
      <ChoiceDrawer title={t("absent.photo")} onClose={onClose}>
        <p className="small">{t("absent.saved")}</p>
        <PhotoList view={view} entries={(view.visit.files ?? []).filter((f) => f.about.entry === said).map((f) => f.entry)} />
        <PhotoAdd visit={view.id} about={{ entry: said }} />
        <Button variant="contained" onClick={onClose}>
          {t("ask.done")}
        </Button>
      </ChoiceDrawer>
    );
  }
  return (
    <ChoiceDrawer title={t("absent.why")} draft={draft} onClose={onClose}>
      <TextField
        label={t("absent.name")}
        value={name}
        onChange={(e) => draft.change({ name: e.target.value })}
        slotProps={{ htmlInput: { autoComplete: "off", maxLength: 200 } }}
      />
      <ul>
        {reasons.map((r) => (
          <li key={r.id}>
            <button type="button" className="choice" onClick={() => save(r.id)}>
              <span className="strong">{r.text}</span>
            </button>
          </li>
        ))}
      </ul>
      <OwnReason name={`absent ${view.id} own`} label={t("absent.other")} act={t("absent.save")} onReason={save} />
    </ChoiceDrawer>
  );
}
