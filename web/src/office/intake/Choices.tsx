import type { Choice } from "../../types";

interface ChoicesProps {
  label: string;
  choices: Pick<Choice, "id" | "text">[];
  pressed: (id: string) => boolean;
  onPress: (id: string) => void;
}

/** A few things of which one, or several, are pressed. */
export function Choices({ label, choices, pressed, onPress }: ChoicesProps) {
  if (choices.length === 0) return null;
  return (
    <fieldset className="priorities">
      <legend className="small quiet">{label}</legend>
      {choices.map((c) => (
        <button type="button" key={c.id} aria-pressed={pressed(c.id)} onClick={() => onPress(c.id)}>
          {c.text}
        </button>
      ))}
    </fieldset>
  );
}
