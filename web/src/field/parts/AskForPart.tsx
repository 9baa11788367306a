import { Button, Checkbox, FormControlLabel, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { type Item, nameOf } from "../../catalogue/catalogue";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useRecord } from "../device";
import { PhotoAdd, PhotoList } from "../visit/PhotoStrip";
import { Finder } from "./Finder";
import { inUnit, typedNumber } from "./useBasket";
import { useUsual } from "./usual";

/** Asks the office for a part: out of the catalogue or in words, with a note and photos, after the customer's approval or without. */
export function AskForPart({ view, what, onClose }: { view: VisitView; what: string; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const [finding, setFinding] = useState(false);
  const [item, setItem] = useState<Item>();
  const [text, setText] = useState(what);
  const [quantity, setQuantity] = useState("1");
  const [note, setNote] = useState("");
  const [approval, setApproval] = useState(false);
  const [asked, setAsked] = useState("");
  const first = useUsual(view.asset?.kind);
  const bad = item?.part ? inUnit({ of: item.part, quantity, unit: item.part.unit }).problem : !(Number(typedNumber(quantity)) > 0);
  const ask = async () => {
    const body = {
      part: item?.id,
      text: text.trim(),
      quantity: typedNumber(quantity),
      note: note.trim() || undefined,
      asset: view.order.asset,
      approval: approval || undefined,
    };
    const entry = await record("part.requested", view.id, body);
    if (entry) setAsked(entry);
  };
  if (finding) {
    return (
      <ChoiceDrawer title={t("ask.title")} tall onClose={() => setFinding(false)}>
        <Finder
          first={first}
          about={() => ""}
          onPick={(i) => {
            setItem(i);
            setText(nameOf(i));
            setFinding(false);
          }}
        />
      </ChoiceDrawer>
    );
  }
  if (asked) {
    const photos = (view.visit.files ?? []).filter((f) => f.about.entry === asked).map((f) => f.entry);
    return (
      <ChoiceDrawer title={t("ask.asked")} onClose={onClose}>
        <p className="small">{t("ask.photo")}</p>
        <PhotoList view={view} entries={photos} />
        <PhotoAdd visit={view.id} about={{ entry: asked }} />
        <Button variant="contained" onClick={onClose}>
          {t("ask.done")}
        </Button>
      </ChoiceDrawer>
    );
  }
  return (
    <ChoiceDrawer title={t("ask.title")} tall onClose={onClose}>
      <div className="scroll form-stack">
        <div className="form-row">
          <TextField
            label={t("ask.what")}
            value={text}
            autoFocus
            onChange={(e) => {
              setText(e.target.value);
              setItem(undefined);
            }}
            slotProps={{ htmlInput: { maxLength: 500, autoComplete: "off" } }}
          />
          <Button variant="outlined" onClick={() => setFinding(true)}>
            {t("remove.find")}
          </Button>
        </div>
        <TextField
          label={item?.part ? t("ask.howMany", { unit: item.part.unit }) : t("parts.quantity")}
          value={quantity}
          onChange={(e) => setQuantity(e.target.value)}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
        <TextField
          label={t("ask.note")}
          value={note}
          multiline
          minRows={2}
          onChange={(e) => setNote(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 5000 } }}
        />
        <FormControlLabel control={<Checkbox checked={approval} onChange={(e) => setApproval(e.target.checked)} />} label={t("ask.approval")} />
      </div>
      <Button variant="contained" disabled={!!bad || !text.trim()} onClick={ask}>
        {t("ask.do")}
      </Button>
    </ChoiceDrawer>
  );
}
