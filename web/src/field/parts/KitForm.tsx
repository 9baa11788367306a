import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { useDraft } from "../../draft/draft";
import { DateField, TimeField } from "../../form/dates";
import type { Kit, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { isoDate, momentOf, price, time } from "../../ui/format";
import { useCurrency, useDevice, useRecord } from "../device";
import { Which } from "./Where";

interface Props {
  view: VisitView;
  id: string;
  kit: Kit;
  place: string;
  target: { asset: string; task: string };
  onBack: () => void;
  onDone: () => void;
  onClose: () => void;
}

/** Adds a kit: its parts at once, and who did its labour and when. */
export function KitForm({ view, id, kit, place, target, onBack, onDone, onClose }: Props) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const currency = useCurrency();
  const parts = useLive(db, async (db) => Promise.all(kit.parts.map(async (p) => ({ ...p, of: await db.body("part", p.part) }))), [kit]) ?? [];
  const crew = [...new Set([me.id, view.visit.technician, ...(view.visit.helpers ?? [])])].filter(Boolean);
  const minutes = (kit.labour ?? []).reduce((n, l) => n + l.minutes, 0);
  const [now] = useState({ day: isoDate(Date.now()), clock: time(Date.now()) });
  const draft = useDraft(`kit ${view.id} ${id}`, { quantity: "1", person: me.id, ...now, took: String(minutes) });
  const { quantity, person, day, clock, took } = draft.value;
  const n = /^\d{1,3}$/.test(quantity.trim()) ? Number(quantity) : 0; // kits are counted
  const fine = n > 0 && (minutes === 0 || (/^\d{1,4}$/.test(took.trim()) && day !== "" && clock !== ""));
  const use = async () => {
    const body = {
      kit: id,
      quantity: String(n),
      place,
      parts: kit.parts.map((p) => ({ part: p.part, quantity: times(p.quantity, n) })),
      asset: target.asset || undefined,
      task: target.task || undefined,
      labour: minutes > 0 ? { person, at: momentOf(day, clock).toISOString(), minutes: Number(took) } : undefined,
    };
    if (await record("kit.used", view.id, body)) {
      draft.clear();
      onDone();
      onClose();
    }
  };
  return (
    <ChoiceDrawer title={kit.name} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        <p>
          <b>{price(kit.price, currency)}</b> {t("kit.fixed")}
        </p>
        <ul>
          {parts.map((p) => (
            <li className="line" key={p.part}>
              <span className="grow">{p.of?.name ?? p.part}</span>
              <span className="end">
                {p.quantity} {p.of?.unit}
              </span>
            </li>
          ))}
          {kit.labour?.map((l) => (
            <li className="line" key={l.name}>
              <span className="grow">{l.name}</span>
              <span className="end">{t("kit.minutes", { count: l.minutes })}</span>
            </li>
          ))}
        </ul>
        {kit.notes && <p className="pre small">{kit.notes}</p>}
        <TextField
          label={t("kit.howMany")}
          value={quantity}
          onChange={(e) => draft.change({ quantity: e.target.value })}
          slotProps={{ htmlInput: { inputMode: "numeric" } }}
        />
        {minutes > 0 && (
          <>
            <Which
              label={t("kit.who")}
              choices={crew.map((c) => ({ id: c, name: c === me.id ? me.person.name : (view.names[c] ?? c) }))}
              value={person}
              onChange={(person) => draft.change({ person })}
            />
            <div className="two-fields">
              <DateField label={t("kit.day")} value={day} onChange={(day) => draft.change({ day })} />
              <TimeField label={t("kit.time")} value={clock} onChange={(clock) => draft.change({ clock })} />
            </div>
            <TextField
              label={t("kit.took")}
              value={took}
              onChange={(e) => draft.change({ took: e.target.value })}
              slotProps={{ htmlInput: { inputMode: "numeric" } }}
            />
          </>
        )}
      </div>
      <span className="basket-acts">
        <Button variant="contained" disabled={!fine} onClick={use}>
          {t("kit.use")}
        </Button>
        <Button variant="outlined" onClick={onBack}>
          {t("choose.back")}
        </Button>
      </span>
    </ChoiceDrawer>
  );
}

/** A quantity of a kit's part, times whole kits, exactly. */
export function times(quantity: string, n: number): string {
  const [whole, fraction = ""] = quantity.split(".");
  const product = (BigInt(whole + fraction) * BigInt(n)).toString().padStart(fraction.length + 1, "0");
  return fraction ? `${product.slice(0, -fraction.length)}.${product.slice(-fraction.length)}` : product;
}
