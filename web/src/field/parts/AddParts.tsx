import { Button } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Item } from "../../catalogue/catalogue";
import { useLive } from "../../device/live";
import type { NeedLine, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { typedNumber } from "../../ui/decimal";
import { price } from "../../ui/format";
import { useDevice, useRecord, useSettings } from "../device";
import { BasketLines, thereWords } from "./BasketLines";
import { Finder } from "./Finder";
import { KitForm } from "./KitForm";
import { inUnit, useBasket } from "./useBasket";
import { useUsual } from "./usual";
import { usePlaces, useStock, WhatFor, Which, whatFor } from "./Where";

interface Props {
  view: VisitView;
  scanning?: boolean;
  /** what a scanner said before the drawer was open */
  code?: string;
  /** what is planned and used now */
  need?: NeedLine;
  onUnknown: (what: "extra" | "request", code: string) => void;
  onClose: () => void;
}

/** Finds or scans parts, and records what is used of them; several at once, and on. */
export function AddParts({ view, scanning, code, need, onUnknown, onClose }: Props) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const settings = useSettings();
  const places = usePlaces(view);
  const [place, setPlace] = useState(me.person.van ?? places[0]?.id ?? "");
  const [target, setTarget] = useState(() => whatFor(view));
  const [kit, setKit] = useState<Item>();
  const [done, setDone] = useState(0);
  const basket = useBasket(`use ${view.id}`);
  const { addNeed } = basket;
  const begun = useRef(false);
  const planned = useLive(db, async (db) => db.body("part", need?.part), [need]);
  useEffect(() => {
    if (!need || !planned || begun.current) return;
    begun.current = true;
    addNeed(need.part, planned, need.left);
  }, [need, planned, addNeed]);
  const stock = useStock(place);
  const left = (part: string) => stock?.lines[part]?.balance;
  const fine = basket.lines.length > 0 && basket.lines.every((p) => inUnit(p).quantity);
  const use = async (on: boolean) => {
    let n = 0;
    for (const p of basket.lines) {
      const inOwn = inUnit(p).quantity;
      if (inOwn === undefined) return;
      const as = p.unit === p.of.unit ? undefined : { quantity: typedNumber(p.quantity), unit: p.unit };
      const body = {
        part: p.part,
        place,
        quantity: inOwn,
        as,
        asset: target.asset || undefined,
        task: target.task || undefined,
        serial: p.serial.trim() || undefined,
      };
      if (!(await record("part.used", view.id, body))) return; // what is recorded is out of the basket, the rest stays
      basket.drop(p.line);
      n++;
    }
    if (!on) onClose();
    setDone((d) => d + n);
  };
  const first = useUsual(view.asset?.kind);
  if (kit?.kit) {
    return (
      <KitForm
        view={view}
        id={kit.id}
        kit={kit.kit}
        place={place}
        target={target}
        onBack={() => setKit(undefined)}
        onDone={() => setDone((d) => d + 1)}
        onClose={onClose}
      />
    );
  }
  return (
    <ChoiceDrawer title={t("parts.add")} tall draft={basket.lines.length > 0 ? basket.draft : undefined} onClose={onClose}>
      <Finder
        kits
        first={first}
        scanning={scanning}
        code={code}
        about={(i) => {
          if (i.kit) return price(i.kit.price, settings?.company.currency ?? "");
          const has = left(i.id);
          return thereWords(has, i.part?.unit);
        }}
        onPick={(i, serial) => (i.kit ? setKit(i) : basket.add(i, serial))}
        unknown={(code) => (
          <span className="finder-acts">
            <Button variant="outlined" onClick={() => onUnknown("extra", code)}>
              {t("parts.asExtra")}
            </Button>
            <Button variant="outlined" onClick={() => onUnknown("request", code)}>
              {t("parts.asRequest")}
            </Button>
          </span>
        )}
      />
      {done > 0 && (
        <p className="small" role="status">
          {t("parts.recorded", { count: done })}
        </p>
      )}
      {basket.lines.length > 0 && (
        <div className="basket-foot">
          <BasketLines basket={basket} left={left} />
          <details>
            <summary className="small">{t("parts.details", { place: places.find((p) => p.id === place)?.name ?? "" })}</summary>
            <div className="basket-details">
              <Which label={t("parts.from")} choices={places} value={place} onChange={setPlace} />
              <WhatFor view={view} value={target} onChange={setTarget} />
            </div>
          </details>
          <span className="basket-acts">
            <Button variant="contained" disabled={!fine} onClick={() => use(false)}>
              {t("parts.useCount", { count: basket.lines.length })}
            </Button>
            <Button variant="outlined" disabled={!fine} onClick={() => use(true)}>
              {t("parts.useOn")}
            </Button>
          </span>
        </div>
      )}
    </ChoiceDrawer>
  );
}
