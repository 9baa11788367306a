import { Button, TextField } from "@mui/material";
import { useState } from "react";

/** A reason in one's own words, when none of the ready-made ones fits. */
export function OwnReason({ label, act, onReason }: { label: string; act: string; onReason: (reason: string) => void }) {
  const [own, setOwn] = useState("");
  return (
    <form
      className="note-entry"
      onSubmit={(e) => {
        e.preventDefault();
        onReason(own.trim());
      }}
    >
      <TextField label={label} value={own} onChange={(e) => setOwn(e.target.value)} slotProps={{ htmlInput: { maxLength: 500 } }} />
      <Button type="submit" variant="outlined" disabled={!own.trim()}>
        {act}
      </Button>
    </form>
  );
}
