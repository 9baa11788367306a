import { Button, Menu, MenuItem, TextField } from "@mui/material";
import { type ReactNode, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import type { ListColumn } from "../../types";
import { type Asking, withFilter } from "./address";
import { Filter } from "./Filter";
import css from "./Lists.module.css";
import { type ListName, useWords } from "./words";

interface Props {
  list: ListName;
  columns: ListColumn[];
  asked: Asking;
  onAsk: (change: Partial<Asking>) => void;
  children: ReactNode;
}

/** How long a word is typed on before it is asked for, in milliseconds. */
const pause = 200;

/** What lines are narrowed by, in one row: words, and filters by column. */
export function FilterRow({ list, columns, asked, onAsk, children }: Props) {
  const { t } = useTranslation();
  const words = useWords(list);
  const [text, setText] = useState(asked.q);
  const [sent, setSent] = useState(asked.q);
  const [choosing, setChoosing] = useState<HTMLElement>();
  const [open, setOpen] = useState(""); // the column whose filter is being chosen
  if (asked.q !== sent) {
    setSent(asked.q); // it was set from elsewhere
    setText(asked.q);
  }
  useEffect(() => {
    if (text === asked.q) return;
    const timer = setTimeout(() => {
      setSent(text);
      onAsk({ q: text });
    }, pause);
    return () => clearTimeout(timer);
  }, [text, asked.q, onAsk]);
  const filtered = columns.filter((c) => c.name === open || asked.where.some((f) => f.column === c.name));
  const filterable = columns.filter((c) => !filtered.includes(c));
  return (
    <div className={css.row}>
      <TextField
        className={css.words}
        label={t("list.words")}
        value={text}
        onChange={(e) => setText(e.target.value)}
        slotProps={{ htmlInput: { type: "search", maxLength: 200 } }}
      />
      {filtered.map((c) => (
        <Filter
          key={c.name}
          list={list}
          column={c}
          asked={asked}
          opened={open === c.name}
          onClose={() => setOpen("")}
          onChange={(f) => onAsk({ where: withFilter(asked.where, f) })}
        />
      ))}
      {filterable.length > 0 && (
        <Button onClick={(e) => setChoosing(e.currentTarget)} aria-haspopup="menu">
          {t("list.filter")}
        </Button>
      )}
      <span className={css.grow} />
      {children}
      {choosing && (
        <Menu open anchorEl={choosing} onClose={() => setChoosing(undefined)}>
          {filterable.map((c) => (
            <MenuItem
              key={c.name}
              onClick={() => {
                setChoosing(undefined);
                setOpen(c.name);
              }}
            >
              {words.title(c.name)}
            </MenuItem>
          ))}
        </Menu>
      )}
    </div>
  );
}
