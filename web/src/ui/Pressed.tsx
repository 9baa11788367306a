import { ToggleButton } from "@mui/material";
import css from "./Pressed.module.css";

interface Props<T extends string> {
  label: string;
  choices: readonly (readonly [T, string])[];
  chosen: T | undefined;
  onChoose: (choice: T) => void;
}

/** A few choices side by side, of which one is pressed. */
export function Pressed<T extends string>({ label, choices, chosen, onChoose }: Props<T>) {
  return (
    <fieldset className={`bare ${css.group}`} aria-label={label}>
      {choices.map(([id, text]) => (
        <ToggleButton key={id} value={id} selected={id === chosen} onChange={() => onChoose(id)}>
          {text}
        </ToggleButton>
      ))}
    </fieldset>
  );
}
