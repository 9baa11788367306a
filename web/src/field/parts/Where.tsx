/** Where parts come from, and what they are for: asked only when there is more than one answer. */
import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import type { Asset, Place, Stock, VisitView } from "../../types";
import { useDevice } from "../device";

export interface Choice {
  id: string;
  name: string;
}

/** The places that parts of a visit may come from: the own van first, then stores, then the vans of others who are on it. */
export function usePlaces(view: VisitView): Choice[] {
  const { db, me } = useDevice();
  const crew = [view.visit.technician, ...(view.visit.helpers ?? [])];
  const places = useLive(db, (db) => db.all("place"), []) ?? [];
  const rank = (p: Place) => (p.person === me.id ? 0 : p.kind === "store" ? 1 : 2);
  return places
    .filter((p) => p.body.person === me.id || p.body.kind === "store" || (p.body.person && crew.includes(p.body.person)))
    .sort((a, b) => rank(a.body) - rank(b.body) || a.body.name.localeCompare(b.body.name))
    .map((p) => ({ id: p.id, name: p.body.name }));
}

/** What a place has, as far as this device knows. */
export function useStock(place: string | undefined): Stock | undefined {
  const { db } = useDevice();
  return useLive(db, (db) => db.body("stock", place), [place]);
}

/** The machines at the visit's site, its own first. */
export function useMachines(view: VisitView): Choice[] {
  const { db } = useDevice();
  const assets = useLive(db, (db) => db.all("asset"), []) ?? [];
  return assets
    .filter((a) => a.body.site === view.order.site && !a.body.parent && !a.body.removed && !a.body.struck)
    .sort((a, b) => Number(b.id === view.order.asset) - Number(a.id === view.order.asset) || a.body.name.localeCompare(b.body.name))
    .map((a) => ({ id: a.id, name: a.body.name }));
}

/** The components that were fitted to a machine and not taken out. */
export function useComponents(asset: string): { id: string; body: Asset }[] {
  const { db } = useDevice();
  return useLive(db, async (db) => (await db.all("asset")).filter((a) => a.body.parent === asset && !a.body.removed && !a.body.struck), [asset]) ?? [];
}

interface Props {
  label: string;
  choices: Choice[];
  value: string;
  onChange: (id: string) => void;
  none?: string;
}

/** One of several; nothing when there is nothing to choose. */
export function Which({ label, choices, value, onChange, none }: Props) {
  if (choices.length < (none ? 1 : 2)) return null;
  return (
    <TextField select label={label} value={choices.some((c) => c.id === value) ? value : ""} onChange={(e) => onChange(e.target.value)}>
      {none !== undefined && <MenuItem value="">{none}</MenuItem>}
      {choices.map((c) => (
        <MenuItem key={c.id} value={c.id}>
          {c.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** What a part is for: the machine, and the task when the work has some. */
export function WhatFor({
  view,
  value,
  onChange,
}: {
  view: VisitView;
  value: { asset: string; task: string };
  onChange: (v: { asset: string; task: string }) => void;
}) {
  const { t } = useTranslation();
  return (
    <>
      <Which label={t("parts.forAsset")} choices={useMachines(view)} value={value.asset} onChange={(asset) => onChange({ ...value, asset })} />
      <Which
        label={t("parts.forTask")}
        choices={view.tasks.map((x) => ({ id: x.id, name: x.name }))}
        value={value.task}
        onChange={(task) => onChange({ ...value, task })}
        none={t("parts.noTask")}
      />
    </>
  );
}

export const whatFor = (view: VisitView) => ({ asset: view.order.asset ?? "", task: view.tasks.find((x) => x.running)?.id ?? "" });
