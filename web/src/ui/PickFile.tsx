import { Button } from "@mui/material";
import { useRef } from "react";

interface Props {
  label: string;
  /** media types, as a file picker names them */
  accept: string;
  disabled?: boolean;
  onFile: (file: File) => void;
}

/** A button that has somebody choose a file. */
export function PickFile({ label, accept, disabled, onFile }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button variant="outlined" disabled={disabled} onClick={() => picker.current?.click()}>
        {label}
      </Button>
      <input
        ref={picker}
        hidden
        type="file"
        accept={accept}
        aria-label={label}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = ""; // so that the same one can be chosen again
          if (file) onFile(file);
        }}
      />
    </>
  );
}
