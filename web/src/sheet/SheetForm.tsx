import { Button, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Section, SectionState, SheetItem } from "../types";
import { price } from "../ui/format";
import { QuestionLine } from "./QuestionLine";
import { useSheet } from "./source";
import "./sheet.css";

/** The sections of a sheet that apply, with their questions: what there is to answer now. */
export function SheetForm() {
  const { state, sheet } = useSheet();
  return state.sections?.map((s) => {
    const section = sheet.sections[s.index];
    return section.repeat ? <Repeated key={s.index} section={section} shown={s} /> : <Plain key={s.index} section={section} shown={s} />;
  });
}

function Plain({ section, shown }: { section: Section; shown: SectionState }) {
  return (
    <fieldset className="sheet">
      <Head title={section.title} shown={shown} />
      <Questions section={section} />
    </fieldset>
  );
}

function Head({ title, shown }: { title: string; shown: SectionState }) {
  const { t } = useTranslation();
  const { currency } = useSheet();
  return (
    <legend className="sheet-head">
      <span className="strong">{title}</span>
      {shown.amount && <span className="small">{t("sheet.subtotal", { amount: price(shown.amount, currency) })}</span>}
    </legend>
  );
}

function Questions({ section, item }: { section: Section; item?: string }) {
  const { state } = useSheet();
  return section.questions.map((q) => {
    const line = state.lines?.find((l) => l.question === q.id && (l.item ?? "") === (item ?? ""));
    return line && <QuestionLine key={q.id} question={q} line={line} />;
  });
}

/** A section that is filled in once for each room, area or machine. One is open at a time. */
function Repeated({ section, shown }: { section: Section; shown: SectionState }) {
  const { t } = useTranslation();
  const { state } = useSheet();
  const items = shown.items ?? [];
  const [chosen, setChosen] = useState<string>();
  const open = items.find((i) => i.id === chosen) ?? items.at(-1);
  const lacks = (id: string) => state.missing.filter((m) => m.item === id && section.questions.some((q) => q.id === m.question)).length;
  return (
    <fieldset className="sheet" id={`section-${section.id}`}>
      <Head title={section.title} shown={shown} />
      <div className="items" role="group" aria-label={section.title}>
        {items.map((i) => (
          <button type="button" key={i.id} aria-pressed={i.id === open?.id} onClick={() => setChosen(i.id)}>
            {i.name}
            {lacks(i.id) > 0 && <b className="items-lack">{t("sheet.lacks", { count: lacks(i.id) })}</b>}
          </button>
        ))}
      </div>
      {open && (
        <div className="item" key={open.id}>
          <ItemName section={section} item={open} />
          <Questions section={section} item={open.id} />
        </div>
      )}
      <AddItem section={section} last={items.at(-1)} count={items.length} />
    </fieldset>
  );
}

function ItemName({ section, item }: { section: Section; item: SheetItem }) {
  const { t } = useTranslation();
  const { repeat, strikeItem } = useSheet();
  const [name, setName] = useState<string>();
  const leave = () => {
    if (name?.trim() && name.trim() !== item.name) void repeat(section, { ...item, name: name.trim() });
    setName(undefined);
  };
  return (
    <div className="item-name">
      <TextField
        label={t("sheet.itemName", { noun: section.repeat?.noun })}
        value={name ?? item.name}
        onChange={(e) => setName(e.target.value)}
        onBlur={leave}
        onKeyDown={(e) => e.key === "Enter" && leave()}
        slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
      />
      {!item.asset && strikeItem(item)}
    </div>
  );
}

function AddItem({ section, last, count }: { section: Section; last?: SheetItem; count: number }) {
  const { t } = useTranslation();
  const { copy } = useSheet();
  const [name, setName] = useState("");
  const noun = section.repeat?.noun ?? "";
  const add = async (from?: SheetItem) => {
    const kept = await copy(section, name.trim() || `${noun[0]?.toUpperCase()}${noun.slice(1)} ${count + 1}`, from);
    if (kept) setName((now) => (now === name ? "" : now)); // what is not kept stays typed
  };
  return (
    <form
      className="item-add"
      onSubmit={(e: FormEvent) => {
        e.preventDefault();
        void add();
      }}
    >
      <TextField
        label={t("sheet.nextItem", { noun })}
        value={name}
        onChange={(e) => setName(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
      />
      <Button type="submit" variant="outlined">
        {t("sheet.addItem", { noun })}
      </Button>
      {last && (
        <Button variant="outlined" onClick={() => void add(last)}>
          {t("sheet.copyItem", { name: last.name })}
        </Button>
      )}
    </form>
  );
}
