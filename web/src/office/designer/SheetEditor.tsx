import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Chosen } from "./Designer";
import { type Draft, withSection } from "./draft";

/** The sheet as a whole. */
export function SheetEditor({ draft, onChoose }: { draft: Draft; onChoose: (c: Chosen) => void }) {
  const { t } = useTranslation();
  const { sheet, change } = draft;
  return (
    <>
      <h2>{t("designer.sheet")}</h2>
      <TextField
        label={t("designer.title")}
        value={sheet.title}
        onChange={(e) => change((s) => ({ ...s, title: e.target.value }))}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <TextField
        label={t("designer.pass")}
        helperText={t("designer.passHint")}
        value={sheet.pass ?? ""}
        onChange={(e) => /^\d{0,3}$/.test(e.target.value) && change((s) => ({ ...s, pass: e.target.value || undefined }))}
        slotProps={{ htmlInput: { inputMode: "numeric" } }}
      />
      <p className="small quiet">{t("designer.start")}</p>
      {sheet.sections.length === 0 && (
        <button
          type="button"
          className="link"
          onClick={() => {
            change((s) => withSection({ ...s, sections: [{ title: t("designer.newSection"), questions: [] }] }, 0, (x) => x));
            onChoose({ section: 0 });
          }}
        >
          {t("designer.addSection")}
        </button>
      )}
    </>
  );
}
