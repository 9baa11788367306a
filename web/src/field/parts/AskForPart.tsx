import { Button, Checkbox, FormControlLabel, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { typedNumber } from "../../ui/decimal";
import { useRecord } from "../device";
import { PhotoAdd, PhotoList } from "../visit/PhotoStrip";
import { useWhat, type WhatDraft, WhatField, WhatFinder } from "./What";

/** Asks the office for a part: out of the catalogue or in words, with a note and photos, after the customer's approval or without. */
export function AskForPart({ view, what, onClose }: { view: VisitView; what: string; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const draft = useDraft<WhatDraft & { quantity: string; note: string; approval: boolean }>(`ask ${view.id}`, {
    text: what,
    quantity: "1",
    note: "",
    approval: false,
  });
  const { quantity, note, approval } = draft.value;
  const part = useWhat(draft);
  const [asked, setAsked] = useState("");
  const ask = async () => {
    const body = {
      part: part.item?.id,
      text: part.text.trim(),
      quantity: typedNumber(quantity),
      note: note.trim() || undefined,
      asset: view.order.asset,
      approval: approval || undefined,
    };
    const entry = await record("part.requested", view.id, body);
    if (!entry) return;
    draft.clear();
    setAsked(entry);
  };
  if (part.finding) return <WhatFinder view={view} title={t("ask.title")} what={part} />;
  if (asked) {
    const photos = (view.visit.files ?? []).filter((f) => f.about.entry === asked).map((f) => f.entry);
    return (
      <ChoiceDrawer title={t("ask.asked")} onClose={onClose}>
        <p className="small">{t("ask.photo")}</p>
        <PhotoList view={view} entries={photos} />
        <PhotoAdd visit={view.id} about={{ entry: asked }} />
        <Button variant="contained" onClick={onClose}>
          {t("ask.done")}
        </Button>
      </ChoiceDrawer>
    );
  }
  return (
    <ChoiceDrawer title={t("ask.title")} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        <WhatField what={part} label={t("ask.what")} autoFocus />
        <TextField
          label={part.item?.part ? t("ask.howMany", { unit: part.item.part.unit }) : t("parts.quantity")}
          value={quantity}
          onChange={(e) => draft.change({ quantity: e.target.value })}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
        <TextField
          label={t("ask.note")}
          value={note}
          multiline
          minRows={2}
          onChange={(e) => draft.change({ note: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 5000 } }}
        />
        <FormControlLabel control={<Checkbox checked={approval} onChange={(e) => draft.change({ approval: e.target.checked })} />} label={t("ask.approval")} />
      </div>
      <Button variant="contained" disabled={part.bad(quantity) || !part.text.trim()} onClick={ask}>
        {t("ask.do")}
      </Button>
    </ChoiceDrawer>
  );
}
