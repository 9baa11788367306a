import { Button, TextField } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { matches } from "../../catalogue/catalogue";
import { letCoreLoad } from "../../device/core";
import { useLive } from "../../device/live";
import type { Part } from "../../types";
import { decimal } from "../../ui/decimal";
import { Empty } from "../../ui/Empty";
import { Tag } from "../../ui/Glyph";
import { useTurns } from "../../ui/turns";
import { useWedge } from "../../ui/wedge";
import { useDevice, useWhole } from "../device";
import { readCode } from "../parts/useBasket";
import { useCatalogue } from "../parts/useCatalogue";
import { SyncMark } from "../SyncMark";
import { Ahead } from "./Ahead";
import { HandOver } from "./HandOver";
import { Handovers } from "./Handovers";
import { OnePart } from "./OnePart";

export interface VanLine {
  id: string;
  part: Part;
  balance: string;
  min?: string;
  /** kept for work orders, by their numbers */
  held: { number: string; quantity: string }[];
}

function useLines(): VanLine[] | undefined {
  const { db, me } = useDevice();
  const van = me.person.van;
  return useLive(
    db,
    async (db) => {
      const stock = await db.body("stock", van);
      const levels = (await db.body("levels", van))?.levels ?? {};
      const ids = [...new Set([...Object.keys(stock?.lines ?? {}), ...Object.keys(levels)])];
      const parts = await db.bodies("part", ids);
      const held: Record<string, VanLine["held"]> = {};
      for (const [order, of] of Object.entries(stock?.held ?? {})) {
        const number = (await db.body("workorder", order))?.number ?? "";
        for (const [part, h] of Object.entries(of)) {
          const left = decimal(h.reserved).minus(h.taken ?? 0);
          if (left.gt(0)) held[part] = [...(held[part] ?? []), { number, quantity: left.toString() }];
        }
      }
      return ids
        .map((id, i) => ({
          id,
          balance: stock?.lines[id]?.balance ?? "0",
          part: parts[i] ?? ({ number: id, name: id, unit: "" } as Part),
          min: levels[id]?.min,
          held: held[id] ?? [],
        }))
        .sort((a, b) => Number(decimal(a.balance).gte(0)) - Number(decimal(b.balance).gte(0)) || a.part.name.localeCompare(b.part.name));
    },
    [van],
  );
}

/** What is on the van, what comes and goes, and what must be counted. */
export default function Van() {
  const { t } = useTranslation();
  const { me } = useDevice();
  const lines = useLines();
  const whole = useWhole();
  const catalogue = useCatalogue();
  const [find, setFind] = useState("");
  const [open, setOpen] = useState<string>();
  const [moving, setMoving] = useState<"give" | "fetch">();
  useEffect(letCoreLoad, []);
  const scanned = useTurns(!!catalogue, (text: string) => {
    const item = catalogue?.withCode(readCode(text)?.key ?? "")[0];
    if (item?.part && !moving) setOpen(item.id);
  });
  useWedge(scanned);
  const shown = lines?.filter((l) => matches(l.part, find)) ?? [];
  const below = lines?.filter((l) => decimal(l.balance).lt(0)) ?? [];
  const chosen = open === undefined ? undefined : (lines?.find((l) => l.id === open) ?? fromCatalogue(catalogue?.item(`part ${open}`)?.part, open));
  return (
    <main className="plain">
      <header className="screen-head">
        <div>
          <h1>{t("van.title")}</h1>
          <p className="small quiet">{whole && lines && t("van.lines", { count: lines.length })}</p>
        </div>
        <SyncMark />
      </header>
      {!me.person.van && <Empty>{t("parts.noVan")}</Empty>}
      <Handovers />
      <Ahead />
      {below.length > 0 && (
        <p className="van-ask">
          <Tag kind="bad">{t("van.ask", { count: below.length })}</Tag>
        </p>
      )}
      {me.person.van && (
        <>
          <div className="van-acts">
            <Button variant="outlined" onClick={() => setMoving("give")}>
              {t("van.give")}
            </Button>
            <Button variant="outlined" onClick={() => setMoving("fetch")}>
              {t("van.fetch")}
            </Button>
          </div>
          <TextField label={t("van.find")} value={find} onChange={(e) => setFind(e.target.value)} slotProps={{ htmlInput: { type: "search" } }} />
        </>
      )}
      {lines && shown.length === 0 && me.person.van && <Empty>{t(lines.length > 0 ? "parts.noMatch" : whole ? "van.none" : "van.first")}</Empty>}
      <ul>
        {shown.map((l) => (
          <li key={l.id}>
            <button type="button" className="line line-button" onClick={() => setOpen(l.id)}>
              <span className="grow">
                {l.part.name}
                <span className="tiny quiet block">{l.part.number}</span>
                {decimal(l.balance).lt(0) ? (
                  <Tag kind="bad">{t("van.below")}</Tag>
                ) : (
                  l.min !== undefined && decimal(l.balance).lt(l.min) && <Tag kind="warn">{t("van.short", { min: l.min })}</Tag>
                )}
                {l.held.map((h) => (
                  <span className="tiny quiet block" key={h.number}>
                    {t("van.held", { quantity: h.quantity, number: h.number })}
                  </span>
                ))}
              </span>
              <span className="end">
                <b>{l.balance}</b> <span className="tiny quiet">{l.part.unit !== "each" && l.part.unit}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {chosen && <OnePart line={chosen} onClose={() => setOpen(undefined)} />}
      {moving && <HandOver way={moving} onClose={() => setMoving(undefined)} />}
    </main>
  );
}

const fromCatalogue = (part: Part | undefined, id: string): VanLine | undefined => part && { id, part, balance: "0", held: [] };
