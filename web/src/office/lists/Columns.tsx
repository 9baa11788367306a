import { Button, Checkbox, FormControlLabel, MenuItem, Popover, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { ListColumn } from "../../types";
import { useBack } from "../../ui/back";
import type { Asking } from "./address";
import { shownColumns } from "./Lines";
import css from "./Lists.module.css";
import { type ListName, useWords } from "./words";

interface Props {
  list: ListName;
  columns: ListColumn[];
  asked: Asking;
  onAsk: (change: Partial<Asking>) => void;
}

/** Which columns are shown, in which order, and by which one lines are grouped. */
export function Columns(props: Props) {
  const { t } = useTranslation();
  const [at, setAt] = useState<HTMLElement>();
  return (
    <>
      <Button onClick={(e) => setAt(e.currentTarget)} aria-haspopup="dialog">
        {t("list.columns")}
      </Button>
      {at && (
        <Popover open anchorEl={at} onClose={() => setAt(undefined)} anchorOrigin={{ vertical: "bottom", horizontal: "left" }}>
          <Choosing {...props} onBack={() => setAt(undefined)} />
        </Popover>
      )}
    </>
  );
}

function Choosing({ list, columns, asked, onAsk, onBack }: Props & { onBack: () => void }) {
  const { t } = useTranslation();
  const words = useWords(list);
  useBack(onBack);
  const shown = shownColumns(list, columns, asked).map((c) => c.name);
  const rest = columns.map((c) => c.name).filter((n) => !shown.includes(n));
  const set = (names: string[]) => onAsk({ columns: names, page: asked.page });
  const move = (name: string, by: number) => {
    const at = shown.indexOf(name);
    const to = shown.filter((n) => n !== name);
    to.splice(at + by, 0, name);
    set(to);
  };
  return (
    <div className={css.choosing} role="dialog" aria-label={t("list.columns")}>
      <TextField select label={t("list.by")} value={asked.by} onChange={(e) => onAsk({ by: e.target.value })}>
        <MenuItem value="">{t("list.ungrouped")}</MenuItem>
        {columns.map((c) => (
          <MenuItem key={c.name} value={c.name}>
            {words.title(c.name)}
          </MenuItem>
        ))}
      </TextField>
      {[...shown, ...rest].map((name) => {
        const at = shown.indexOf(name);
        const title = words.title(name);
        return (
          <div key={name} className={css.column}>
            <FormControlLabel
              control={
                <Checkbox
                  checked={at >= 0}
                  disabled={at >= 0 && shown.length === 1}
                  onChange={() => set(at >= 0 ? shown.filter((n) => n !== name) : [...shown, name])}
                />
              }
              label={title}
            />
            {at >= 0 && (
              <>
                <Button className={css.off} disabled={at === 0} aria-label={t("list.earlier", { name: title })} onClick={() => move(name, -1)}>
                  ↑
                </Button>
                <Button className={css.off} disabled={at === shown.length - 1} aria-label={t("list.later", { name: title })} onClick={() => move(name, 1)}>
                  ↓
                </Button>
              </>
            )}
          </div>
        );
      })}
    </div>
  );
}
