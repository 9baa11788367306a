import { Button } from "@mui/material";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { paperTypes, prepare, refOf, upload } from "../../device/files";
import { Failure } from "../queries";
import type { FieldsProps } from "./fields";

/** A document that comes with an instruction: kept at the office, fetched by phones before it is needed. */
export function Document({ question: q, onChange }: FieldsProps) {
  const { t } = useTranslation();
  const picker = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>();
  const take = async (file?: File) => {
    if (!file) return;
    setBusy(true);
    setError(undefined);
    try {
      const kept = await prepare(file);
      await upload(kept);
      onChange({ document: refOf(kept) });
    } catch (e) {
      setError(e);
    }
    setBusy(false);
  };
  return (
    <div className="editor-row">
      {q.document && (
        <span className="grow">
          <a href={`/api/files/${q.document.hash}`} target="_blank" rel="noreferrer">
            {q.document.name}
          </a>{" "}
          <button type="button" className="link small" onClick={() => onChange({ document: undefined })}>
            {t("rule.remove")}
          </button>
        </span>
      )}
      <Button variant="outlined" disabled={busy} onClick={() => picker.current?.click()}>
        {t("designer.document")}
      </Button>
      <input
        ref={picker}
        hidden
        type="file"
        accept={paperTypes}
        aria-label={t("designer.document")}
        onChange={(e) => {
          void take(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
      <Failure error={error} />
    </div>
  );
}
