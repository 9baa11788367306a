import { Button, TextField } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { matches } from "../field/parts";
import type { AnswerLine, Kit, Part, PartPick, Question } from "../types";
import { ChoiceDrawer } from "../ui/ChoiceDrawer";
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
    const n = text?.trim().replace(",", ".");
    if (n && Number(n) > 0 && n !== pick.quantity) onChange({ ...pick, quantity: n });
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

type Found = { key: string; name: string; number: string; price: string; pick: Omit<PartPick, "quantity"> };

function Picker({ onPick, onClose }: { onPick: (p: Omit<PartPick, "quantity">) => void; onClose: () => void }) {
  const { t } = useTranslation();
  const { catalogue, currency } = useSheet();
  const [find, setFind] = useState("");
  const [all, setAll] = useState<{ parts: { id: string; body: Part }[]; kits: { id: string; body: Kit }[] }>();
  useEffect(() => {
    catalogue().then(setAll, () => setAll({ parts: [], kits: [] }));
  }, [catalogue]);
  const kits = (all?.kits ?? []).filter((k) => `${k.body.name} ${k.body.number}`.toLowerCase().includes(find.trim().toLowerCase()));
  const found: Found[] = [
    ...kits.map(({ id, body }) => ({ key: `kit ${id}`, ...body, pick: { kit: id, name: body.name, price: body.price } })),
    ...(all?.parts ?? [])
      .filter((p) => matches(p.body, find))
      .map(({ id, body }) => ({ key: id, ...body, pick: { part: id, name: body.name, price: body.price } })),
  ];
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
        {found.slice(0, 60).map((f) => (
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
