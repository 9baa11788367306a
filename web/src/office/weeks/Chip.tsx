import { useDraggable } from "@dnd-kit/core";
import type { KeyboardEvent } from "react";
import { useTranslation } from "react-i18next";
import { time } from "../../ui/format";
import { Glyph } from "../../ui/Glyph";
import type { Chip as ChipOf } from "./rows";
import css from "./Weeks.module.css";

interface Props {
  chip: ChipOf;
  date: string;
  row: string;
  named: boolean; // says whose it is
  joined: boolean; // days stand side by side: work over several is one piece
  free: boolean; // may be moved
  chosen: boolean;
  onChoose: (chip: ChipOf) => void;
  onKey: (e: KeyboardEvent, chip: ChipOf) => void;
}

/** A visit on a day. It is dragged to another; by the keyboard with space, arrows and space. */
export function Chip({ chip: c, date, row, named, joined, free, chosen, onChoose, onKey }: Props) {
  const { t } = useTranslation();
  const can = free && !c.with && ["planned", "sent", "accepted", "declined"].includes(c.stage);
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({ id: `${row} ${date} ${c.id}`, data: { visit: c }, disabled: !can });
  return (
    <button
      type="button"
      ref={setNodeRef}
      {...(can ? { ...attributes, ...listeners } : {})}
      className={`${css.chip} ${c.stage}${c.faded ? " faded" : ""}${isDragging ? " dragged" : ""}${joined && c.before ? " before" : ""}${joined && c.after ? " after" : ""}`}
      aria-pressed={chosen}
      title={`${c.site}, ${c.problem}`}
      onClick={() => onChoose(c)}
      onKeyDown={can ? (e) => onKey(e, c) : undefined}
    >
      {c.before && <span className="visually-hidden">{t("weeks.goesOn")}</span>}
      <Glyph stage={c.stage} /> {time(c.start)} <b>{c.site}</b>
      {c.with && <span className="quiet"> {t("board.with", { name: c.with })}</span>}
      {named && <span className="quiet"> {c.who}</span>}
    </button>
  );
}
