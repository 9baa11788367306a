import { Button, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { Span } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { isoDate } from "../../ui/format";
import { useDevice, useRecord, useSettings } from "../device";
import { useUsualSort } from "./usualSort";

/** What a stretch of work went to: its sort, and a line on what was done. */
export default function Describe({ span, title, onClose }: { span: Span; title: string; onClose: () => void }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const sorts = useSettings()?.time.sorts ?? [];
  const usual = useUsualSort();
  const draft = useDraft<{ sort?: string; text: string }>(`stretch ${span.from}`, { text: span.text ?? "" });
  const { sort = span.sort ?? usual ?? "", text } = draft.value;
  const save = async () => {
    const card = { type: "timecard", id: `${me.id}+${isoDate(span.start)}` };
    if (!(await record("time.described", card, { from: span.from, sort: sort || undefined, text: text.trim() || undefined }))) return;
    draft.clear();
    onClose();
  };
  return (
    <ChoiceDrawer title={title} draft={draft} onClose={onClose}>
      <div className="form-stack">
        {sorts.length > 0 && (
          <div className="options">
            {sorts.map((s) => (
              <button type="button" key={s.id} aria-pressed={sort === s.id} onClick={() => draft.change({ sort: sort === s.id ? "" : s.id })}>
                {s.text}
              </button>
            ))}
          </div>
        )}
        <TextField
          label={t("describe.text")}
          value={text}
          onChange={(e) => draft.change({ text: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 500, autoComplete: "off" } }}
        />
        <Button variant="contained" fullWidth onClick={() => void save()}>
          {t("records.save")}
        </Button>
      </div>
    </ChoiceDrawer>
  );
}
