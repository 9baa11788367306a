import { Button, Checkbox, FormControlLabel, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Item } from "../../catalogue/catalogue";
import { May } from "../../session/May";
import type { Part } from "../../types";
import { isQuantity, typedNumber } from "../../ui/decimal";
import { SideDrawer } from "../../ui/SideDrawer";
import type { Word } from "../../words/i18n";
import { Failure, useCommands, useSettings } from "../queries";
import { useCatalogue } from "./queries";

const texts = ["number", "name", "category", "unit", "price", "cost"] as const;
const lists = ["names", "codes"] as const;

/** What a form holds of a part: text only, lists by line. */
export function formOf(p: Part | undefined) {
  return {
    number: p?.number ?? "",
    name: p?.name ?? "",
    category: p?.category ?? "",
    unit: p?.unit ?? "each",
    price: p?.price ?? "0",
    cost: p?.cost ?? "0",
    names: p?.names?.join("\n") ?? "",
    codes: p?.codes?.join("\n") ?? "",
    packs: p?.packs?.map((k) => `${k.name}=${k.size}`).join("\n") ?? "",
    tax: p?.tax ?? "",
    supplier: p?.supplier ?? "",
    replacedBy: p?.replacedBy ?? "",
    warranty: String(p?.warranty ?? 0),
    serial: p?.serial ?? false,
    retired: p?.retired ?? false,
  };
}

const lines = (s: string) =>
  s
    .split("\n")
    .map((x) => x.trim())
    .filter(Boolean);

/** The part that a form says; undefined while a number in it is none. */
export function partOf(f: ReturnType<typeof formOf>): Partial<Record<keyof Part, unknown>> | undefined {
  const packs = lines(f.packs).map((l) => ({ name: l.split("=")[0].trim(), size: typedNumber(l.split("=")[1] ?? "") }));
  const numbers = [f.price, f.cost, f.warranty, ...packs.map((p) => p.size)];
  if (!numbers.every(isQuantity)) return undefined;
  return {
    number: f.number.trim(),
    name: f.name.trim(),
    category: f.category.trim() || null,
    unit: f.unit.trim(),
    price: typedNumber(f.price),
    cost: typedNumber(f.cost),
    names: lines(f.names),
    codes: lines(f.codes),
    packs,
    tax: f.tax || null,
    supplier: f.supplier || null,
    replacedBy: f.replacedBy.trim() || null,
    warranty: Number(f.warranty),
    serial: f.serial || null,
    retired: f.retired || null,
  };
}

/** Makes or changes a part of the catalogue. */
export function PartForm({ item, onClose }: { item?: Item; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const settings = useSettings().data;
  const catalogue = useCatalogue();
  const [had] = useState(item?.part); // as it was when this opened
  const [form, setForm] = useState(() => formOf(had));
  const set = (patch: Partial<typeof form>) => setForm({ ...form, ...patch });
  const body = partOf(form);
  const fine = body && form.number.trim() && form.name.trim() && form.unit.trim();
  const save = () => {
    const subject = { type: "part", id: item?.id ?? form.number.trim().replace(/[^A-Za-z0-9._@:+-]/g, "-") };
    const fresh = Object.fromEntries(Object.entries(body!).filter(([, v]) => v !== null));
    commands.mutate([item ? { kind: "record.amended", subject, body, base: baseOf(had!, body!) } : { kind: "record.created", subject, body: fresh }], {
      onSuccess: onClose,
    });
  };
  const used = catalogue?.withCode(form.number.trim().toUpperCase()).filter((i) => i.key !== item?.key) ?? [];
  return (
    <SideDrawer title={item?.part?.name ?? t("catalogue.add")} onClose={onClose}>
      <form
        className="form-stack"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        <div className="part-form">
          {texts.map((f) => (
            <TextField
              key={f}
              label={t(`part.${f}` as Word)}
              value={form[f]}
              disabled={f === "number" && !!item}
              error={f === "number" && used.length > 0}
              helperText={f === "number" && used.length > 0 ? t("catalogue.taken") : undefined}
              onChange={(e) => set({ [f]: e.target.value })}
            />
          ))}
        </div>
        {lists.map((f) => (
          <TextField key={f} label={t(`part.${f}` as Word)} value={form[f]} multiline minRows={2} onChange={(e) => set({ [f]: e.target.value })} />
        ))}
        <TextField label={t("part.packs")} value={form.packs} multiline minRows={2} onChange={(e) => set({ packs: e.target.value })} />
        <div className="part-form">
          <Select label={t("part.tax")} value={form.tax} of={(settings?.stores.taxes ?? []).map((x) => [x.id, x.text])} onChange={(tax) => set({ tax })} />
          <Select
            label={t("part.supplier")}
            value={form.supplier}
            of={(settings?.stores.suppliers ?? []).map((x) => [x.id, x.name])}
            onChange={(supplier) => set({ supplier })}
          />
          <TextField label={t("part.warranty")} value={form.warranty} onChange={(e) => set({ warranty: e.target.value })} />
          <TextField label={t("part.replacedBy")} value={form.replacedBy} onChange={(e) => set({ replacedBy: e.target.value })} />
        </div>
        <FormControlLabel control={<Checkbox checked={form.serial} onChange={(e) => set({ serial: e.target.checked })} />} label={t("part.serial")} />
        <FormControlLabel control={<Checkbox checked={form.retired} onChange={(e) => set({ retired: e.target.checked })} />} label={t("part.retired")} />
        {item && (
          <Link className="small" to={`/office/records/part/${item.id}`}>
            {t("catalogue.papers")}
          </Link>
        )}
        <span className="stores-bar">
          <May right="record.amended part">
            <Button type="submit" variant="contained" disabled={!fine || commands.isPending}>
              {t("records.save")}
            </Button>
          </May>
        </span>
        <Failure error={commands.error} />
      </form>
    </SideDrawer>
  );
}

/** The values that a change replaces, so that two people who change one field are noticed. */
function baseOf(part: Part, change: object): object {
  const all = part as unknown as Record<string, unknown>;
  return Object.fromEntries(Object.keys(change).map((k) => [k, all[k] ?? null]));
}

function Select({ label, value, of, onChange }: { label: string; value: string; of: [string, string][]; onChange: (v: string) => void }) {
  return (
    <TextField select label={label} value={of.some(([id]) => id === value) ? value : ""} onChange={(e) => onChange(e.target.value)}>
      <MenuItem value="">–</MenuItem>
      {of.map(([id, text]) => (
        <MenuItem key={id} value={id}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}
