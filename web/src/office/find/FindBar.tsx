import { Autocomplete, TextField } from "@mui/material";
import { useDeferredValue, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import type { Me } from "../../types";
import { Failure, useFind } from "../queries";
import { useActions } from "./actions";
import { type Choice, choicesOf } from "./choices";
import css from "./FindBar.module.css";
import { remember, remembered } from "./recent";

/** The one bar that finds everything: records by parts of words, numbers and telephone numbers, and what can be done by its name. */
export function FindBar({ me }: { me: Me }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const field = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  const [open, setOpen] = useState(false);
  const asked = useDeferredValue(text.trim());
  const query = useFind(asked);
  const stale = asked !== text.trim() || query.isPlaceholderData || query.isLoading; // what is shown is for what was typed before
  const [wanted, setWanted] = useState(false);
  const actions = useActions(text, query.data?.hits ?? []);
  const found = asked ? choicesOf(query.data?.hits ?? []) : remembered(me.id);
  // What can be done by these words comes before what is only spelled nearly so.
  const choices = found.some((c) => !c.slip) ? [...found, ...actions] : [...actions, ...found];
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement;
      const typing = at.closest("input, textarea, select, [contenteditable]");
      if ((e.key === "/" && !typing && !e.ctrlKey && !e.metaKey && !e.altKey) || (e.key === "k" && (e.ctrlKey || e.metaKey))) {
        if (document.querySelector("[role=dialog]")) return; // what is open is seen to first
        e.preventDefault();
        field.current?.focus();
        field.current?.select();
        setOpen(true);
      }
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
  const go = (choice: Choice) => {
    if (choice.type !== "action") remember(me.id, choice);
    setText("");
    setOpen(false);
    field.current?.blur();
    navigate(choice.to);
  };
  // Whoever pressed Enter before the answer was there gets its best.
  const first = stale ? undefined : choices[0];
  useEffect(() => {
    if (!wanted || stale) return;
    setWanted(false);
    if (first) go(first);
  });
  const name = (type: string) => {
    const word = t(`bar.type.${type as "site"}`);
    return query.data?.cut.includes(type) ? t("bar.cut", { type: word }) : word;
  };
  return (
    <div className={css.bar}>
      <Autocomplete<Choice>
        options={choices}
        inputValue={text}
        value={null}
        open={open && (choices.length > 0 || asked !== "")}
        onOpen={() => setOpen(true)}
        onClose={() => setOpen(false)}
        onInputChange={(_, to, why) => why === "input" && setText(to)}
        onChange={(_, choice) => choice && go(choice)}
        filterOptions={(all) => all}
        getOptionLabel={(c) => c.title}
        getOptionKey={(c) => c.key}
        groupBy={(c) => (asked || c.type === "action" ? name(c.type) : t("bar.recent"))}
        isOptionEqualToValue={() => false}
        autoHighlight
        onKeyDown={(e) => {
          if (e.key !== "Enter" || !stale) return setWanted(false);
          e.defaultMuiPrevented = true;
          setWanted(true);
        }}
        clearIcon={null}
        forcePopupIcon={false}
        noOptionsText={query.isSuccess ? t("bar.none") : query.isError ? <Failure error={query.error} /> : t("office.loading")}
        renderInput={(params) => (
          <TextField
            {...params}
            inputRef={field}
            placeholder={t("bar.placeholder")}
            slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps?.htmlInput, "aria-label": t("bar.label") } }}
          />
        )}
        renderGroup={(g) => (
          <li key={g.key} role="presentation">
            <span className={css.group} aria-hidden="true">
              {g.group}
            </span>
            <ul role="group" aria-label={g.group}>
              {g.children}
            </ul>
          </li>
        )}
        renderOption={({ key, ...props }, c) => (
          <li key={key} {...props}>
            <span className={css.choice}>
              <span className="strong">{c.title}</span>
              {c.detail && <span className="small quiet">{c.detail}</span>}
            </span>
            {c.slip && <span className="tiny quiet">{t("bar.slip")}</span>}
          </li>
        )}
        slotProps={{ paper: { className: css.list }, popper: { placement: "bottom-start" } }}
      />
      <kbd className={css.key}>/</kbd>
    </div>
  );
}
