import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { ExtraKind, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { isPositive, isQuantity, typedNumber } from "../../ui/decimal";
import { useCurrency, useDevice, useRecord } from "../device";
import { PhotoAdd, PhotoList } from "../visit/PhotoStrip";
import { TripFields } from "./TripFields";
import { type SaidTrip, useTrip } from "./useTrip";
import { whatFor } from "./Where";

const kinds: ExtraKind[] = ["item", "travel", "mileage", "fee", "purchase"];

/** Adds what is in no catalogue: a one-off item, a travel charge, kilometres, a fee, something bought, with a photo of its receipt. */
export function AddExtra({ view, what, onClose }: { view: VisitView; what: string; onClose: () => void }) {
  const { t } = useTranslation();
  const { tell } = useDevice();
  const record = useRecord();
  const currency = useCurrency();
  const draft = useDraft(`extra ${view.id}`, {
    kind: "item" as ExtraKind,
    text: what,
    quantity: null as string | null, // not typed
    unit: "",
    price: "",
    trip: {} as SaidTrip,
  });
  const { kind, text, unit, price } = draft.value;
  const trip = useTrip(view, draft.value.trip);
  // The route may be worked out only after somebody chose kilometres.
  const quantity = draft.value.quantity ?? (kind === "mileage" && trip.road ? trip.road : "1");
  const [added, setAdded] = useState("");
  // What was typed stays; what came with the kind before gives way.
  const choose = (k: ExtraKind) => {
    const given = kinds.map((x) => t(`extra.${x}`)).includes(text) || text === what;
    draft.change({
      kind: k,
      unit: k === "mileage" ? "km" : kind === "mileage" ? "" : unit,
      text: given ? (k === "item" || k === "purchase" ? what : t(`extra.${k}`)) : text,
    });
  };
  const fine = text.trim() !== "" && isPositive(quantity) && (price.trim() === "" || isQuantity(price)) && !(kind === "mileage" && trip.wrong);
  const add = async () => {
    const target = whatFor(view);
    const body = {
      kind,
      text: text.trim(),
      quantity: typedNumber(quantity),
      unit: unit.trim() || undefined,
      price: price.trim() ? typedNumber(price) : undefined,
      asset: target.asset || undefined,
      task: target.task || undefined,
      trip: kind === "mileage" ? trip.body : undefined,
    };
    const entry = await record("extra.added", view.id, body);
    if (!entry) return;
    draft.clear();
    if (kind === "purchase") setAdded(entry);
    else {
      tell(t("extra.added", { what: text.trim() }));
      onClose();
    }
  };
  if (added) {
    const photos = (view.visit.files ?? []).filter((f) => f.about.entry === added).map((f) => f.entry);
    return (
      <ChoiceDrawer title={t("extra.receipt")} onClose={onClose}>
        <PhotoList view={view} entries={photos} />
        <PhotoAdd visit={view.id} about={{ entry: added }} />
        <Button variant="contained" onClick={onClose}>
          {t("ask.done")}
        </Button>
      </ChoiceDrawer>
    );
  }
  return (
    <ChoiceDrawer title={t("extra.title")} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        <fieldset className="chips">
          <legend className="visually-hidden">{t("extra.kind")}</legend>
          {kinds.map((k) => (
            <button type="button" key={k} className="chip" aria-pressed={kind === k} onClick={() => choose(k)}>
              {t(`extra.${k}`)}
            </button>
          ))}
        </fieldset>
        <TextField
          label={t("extra.what")}
          value={text}
          onChange={(e) => draft.change({ text: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 500, autoComplete: "off" } }}
        />
        <div className="form-row">
          <TextField
            label={t("parts.quantity")}
            value={quantity}
            onChange={(e) => draft.change({ quantity: e.target.value })}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
          <TextField
            label={t("parts.unit")}
            value={unit}
            onChange={(e) => draft.change({ unit: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 60, autoComplete: "off" } }}
          />
          <TextField
            label={t("extra.price", { currency })}
            value={price}
            onChange={(e) => draft.change({ price: e.target.value })}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
        </div>
        {kind === "mileage" && (
          <TripFields
            trip={trip}
            onChange={(said) =>
              draft.change({ trip: { ...draft.value.trip, ...said }, ...("from" in said || "to" in said || "back" in said ? { quantity: null } : {}) })
            }
            onMeter={(km) => draft.change({ quantity: km })}
          />
        )}
        {kind !== "mileage" && price.trim() === "" && <p className="small quiet">{t("extra.noPrice")}</p>}
      </div>
      <Button variant="contained" disabled={!fine} onClick={add}>
        {t("extra.do")}
      </Button>
    </ChoiceDrawer>
  );
}
