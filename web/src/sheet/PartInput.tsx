import { Button, TextField } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Catalogue, kitItem, nameOf, numberOf, partItem } from "../catalogue/catalogue";
import type { AnswerLine, Kit, Part, PartPick, Question } from "../types";
import { ChoiceDrawer } from "../ui/ChoiceDrawer";
import { isPositive, typedNumber } from "../ui/decimal";
import { price } from "../ui/format";
import { useSheet } from "./source";

/** A part or kit out of the catalogue: its price fills in, quantity times price is worked out by the core. */
export function PartInput({ question: q, line }: { question: Question; line: AnswerLine }) {
  const { t } = useTranslation();
  const { answer, currency } = useSheet();
  const [picking, setPicking] = useState(false);
  const pick = line.value ? (JSON.parse(line.value) as PartPick) : undefined;
  const put = (p: PartPick) => void answer(q, line.item, JSON.stringify(p));
  return (
    <>
      {pick ? (
        <div className="pick">
          <span className="grow">
            {pick.name || pick.part || pick.kit}
            <span className="small quiet block">{t("sheet.each", { price: price(pick.price, currency) })}</span>
          </span>
          {q.quantity ? <span className="nowrap">× {pick.quantity}</span> : <Quantity pick={pick} onChange={put} />}
          <b className="nowrap">{line.amount !== undefined && price(line.amount, currency)}</b>
        </div>
      ) : null}
      <Button variant="outlined" onClick={() => setPicking(true)}>
        {t(pick ? "sheet.pickOther" : "sheet.pick")}
      </Button>
      {picking && (
        <Picker
          onPick={(p) => {
            put({ ...p, quantity: pick?.quantity ?? "1" });
            setPicking(false);
          }}
          onClose={() => setPicking(false)}
        />
      )}
    </>
  );
}

function Quantity({ pick, onChange }: { pick: PartPick; onChange: (p: PartPick) => void }) {
  const { t } = useTranslation();
  const [text, setText] = useState<string>();
  const leave = () => {
    if (text && isPositive(text) && typedNumber(text) !== pick.quantity) onChange({ ...pick, quantity: typedNumber(text) });
    setText(undefined);
  };
  return (
    <TextField
      className="pick-quantity"
      label={t("parts.quantity")}
      value={text ?? pick.quantity}
      onChange={(e) => setText(e.target.value)}
      onBlur={leave}
      onKeyDown={(e) => e.key === "Enter" && leave()}
      slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off" } }}
    />
  );
}

function Picker({ onPick, onClose }: { onPick: (p: Omit<PartPick, "quantity">) => void; onClose: () => void }) {
  const { t } = useTranslation();
  const { catalogue, currency } = useSheet();
  const [find, setFind] = useState("");
  const [all, setAll] = useState<Catalogue>();
  useEffect(() => {
    const ready = (parts: { id: string; body: Part }[], kits: { id: string; body: Kit }[]) =>
      setAll(new Catalogue([...kits.map((k) => kitItem(k.id, k.body)), ...parts.map((p) => partItem(p.id, p.body))], (codes) => codes));
    catalogue().then(
      (c) => ready(c.parts, c.kits),
      () => ready([], []),
    );
  }, [catalogue]);
  const found = (all?.find(find) ?? []).map((i) => {
    const { name, price } = i.part ?? i.kit!;
    return { key: i.key, name: nameOf(i), number: numberOf(i), price, pick: i.kit ? { kit: i.id, name, price } : { part: i.id, name, price } };
  });
  return (
    <ChoiceDrawer title={t("sheet.pick")} tall onClose={onClose}>
      <TextField
        label={t("parts.find")}
        value={find}
        onChange={(e) => setFind(e.target.value)}
        autoFocus
        slotProps={{ htmlInput: { autoComplete: "off", type: "search" } }}
      />
      <ul className="scroll">
        {found.map((f) => (
          <li key={f.key}>
            <button type="button" className="choice" onClick={() => onPick(f.pick)}>
              <span>
                <span className="strong">{f.name}</span>
                <span className="tiny quiet block">
                  {f.number}
                  {f.key.startsWith("kit ") && ` · ${t("sheet.kit")}`}
                </span>
              </span>
              <span className="small">{price(f.price, currency)}</span>
            </button>
          </li>
        ))}
        {all && found.length === 0 && <li className="empty">{t("parts.noMatch")}</li>}
      </ul>
    </ChoiceDrawer>
  );
}
