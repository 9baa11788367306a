import type { ReactNode } from "react";

interface Item {
  id: string;
  text: string;
  hint?: string;
}

/** Things to choose one of, with a way out. */
export function ChoiceList({
  title,
  items,
  onPick,
  onClose,
  close,
  more,
}: {
  title: string;
  items: Item[];
  onPick: (id: string) => void;
  onClose: () => void;
  close: string;
  /** what can be said instead */
  more?: ReactNode;
}) {
  return (
    <>
      <h2>{title}</h2>
      <ul>
        {items.map((i) => (
          <li key={i.id}>
            <button type="button" className="choice" onClick={() => onPick(i.id)}>
              <span className="strong">{i.text}</span>
              {i.hint && <span className="small quiet">{i.hint}</span>}
            </button>
          </li>
        ))}
      </ul>
      {more}
      <button type="button" className="link" onClick={onClose}>
        {close}
      </button>
    </>
  );
}
