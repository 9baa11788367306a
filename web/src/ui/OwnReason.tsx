import { Button, TextField } from "@mui/material";
import { useDraftText } from "../draft/draft";

interface Props {
  /** what its draft is named after */
  name: string;
  label: string;
  act: string;
  /** resolves to whether it is recorded */
  onReason: (reason: string) => Promise<boolean>;
}

/** A reason in one's own words, when none of the ready-made ones fits. */
export function OwnReason({ name, label, act, onReason }: Props) {
  const [own, setOwn] = useDraftText(name);
  return (
    <form
      className="note-entry"
      onSubmit={(e) => {
        e.preventDefault();
        void onReason(own.trim()).then((kept) => kept && setOwn(""));
      }}
    >
      <TextField label={label} value={own} onChange={(e) => setOwn(e.target.value)} slotProps={{ htmlInput: { maxLength: 500 } }} />
      <Button type="submit" variant="outlined" disabled={!own.trim()}>
        {act}
      </Button>
    </form>
  );
}
