import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";

interface Props {
  label: string;
  act: string;
  onReason: (reason: string) => void;
  onClose: () => void;
}

/** Asks why, in place. */
export function Reason({ label, act, onReason, onClose }: Props) {
  const { t } = useTranslation();
  const [text, setText] = useState("");
  return (
    <form
      className="stores-reason"
      onSubmit={(e) => {
        e.preventDefault();
        onReason(text.trim());
      }}
    >
      <TextField label={label} value={text} autoFocus onChange={(e) => setText(e.target.value)} slotProps={{ htmlInput: { maxLength: 500 } }} />
      <Button type="submit" variant="contained" disabled={!text.trim()}>
        {act}
      </Button>
      <button type="button" className="link" onClick={onClose}>
        {t("choose.cancel")}
      </button>
    </form>
  );
}
