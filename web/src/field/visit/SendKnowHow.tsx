import { Button, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { newId } from "../../device/record";
import { useDraft } from "../../draft/draft";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useOnce } from "../../ui/useOnce";
import { useDevice, useRecord } from "../device";

/** Sends in what somebody learned on a visit, with photos of it: the office looks at it before others are offered it. */
export default function SendKnowHow({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const { tell } = useDevice();
  const record = useRecord();
  const draft = useDraft(`knowhow ${view.id}`, { title: "", text: "", photos: [] as string[] });
  const { title, text, photos } = draft.value;
  const files = (view.visit.files ?? []).filter((f) => !f.struck);
  const said = (view.visit.diagnoses ?? []).findLast((d) => !d.struck);
  const trouble = said?.cause ?? said?.trouble ?? view.order.trouble;
  const send = useOnce(async () => {
    const chosen = files.filter((f) => photos.includes(f.hash));
    const body = {
      title: title.trim(),
      text: text.trim(),
      troubles: trouble ? [trouble] : undefined,
      kinds: view.asset?.kind ? [view.asset.kind] : undefined,
      documents: Object.fromEntries(chosen.map(({ hash, name, type, size }) => [hash, { name, type, size, pack: false }])),
    };
    if (!(await record("knowhow.sent", { type: "knowhow", id: newId() }, body))) return;
    draft.clear();
    tell(t("knowhow.sentIn"));
    onClose();
  });
  return (
    <ChoiceDrawer title={t("knowhow.send")} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        <TextField
          label={t("knowhow.titleLabel")}
          value={title}
          onChange={(e) => draft.change({ title: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
        <TextField
          label={t("knowhow.text")}
          value={text}
          onChange={(e) => draft.change({ text: e.target.value })}
          multiline
          minRows={5}
          slotProps={{ htmlInput: { maxLength: 20_000 } }}
        />
        {files.map((f) => (
          <label className="line" key={f.hash}>
            <input
              type="checkbox"
              checked={photos.includes(f.hash)}
              onChange={() => draft.change({ photos: photos.includes(f.hash) ? photos.filter((h) => h !== f.hash) : [...photos, f.hash] })}
            />
            <span className="grow">{f.caption || f.name}</span>
          </label>
        ))}
        <p className="small quiet">{t("knowhow.hint")}</p>
      </div>
      <Button variant="contained" disabled={!title.trim() || !text.trim()} onClick={() => send()}>
        {t("knowhow.sendThis")}
      </Button>
    </ChoiceDrawer>
  );
}
