import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { newId } from "../../device/record";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { sumsByPart } from "../../ui/decimal";
import { useOnce } from "../../ui/useOnce";
import { useDevice, useRecord } from "../device";
import { BasketLines } from "../parts/BasketLines";
import { Finder } from "../parts/Finder";
import { inUnit, useBasket } from "../parts/useBasket";
import { useStock, Which } from "../parts/Where";

/** Hands parts over to another van or a store, whose people confirm it; or takes parts off a store's shelf. */
export function HandOver({ way, onClose }: { way: "give" | "fetch"; onClose: () => void }) {
  const { t } = useTranslation();
  const { db, me, tell } = useDevice();
  const record = useRecord();
  const basket = useBasket(way);
  const van = me.person.van!;
  const stock = useStock(van);
  const all = useLive(db, (db) => db.all("place"), []) ?? [];
  const others = all
    .filter((p) => p.id !== van && (way === "give" || p.body.kind === "store"))
    .sort((a, b) => a.body.kind.localeCompare(b.body.kind) || a.body.name.localeCompare(b.body.name, undefined, { numeric: true }))
    .map((p) => ({ id: p.id, name: p.body.name }));
  const [chosen, setChosen] = useState("");
  const other = chosen || others[0]?.id || "";
  const left = (part: string) => stock?.lines[part]?.balance;
  const fine = other !== "" && basket.lines.length > 0 && basket.lines.every((p) => inUnit(p).quantity);
  const move = useOnce(async () => {
    const lines = sumsByPart(basket.lines.map((p) => ({ part: p.part, quantity: inUnit(p).quantity ?? "0" })));
    const subject = { type: "handover", id: newId() };
    const [from, to] = way === "give" ? [van, other] : [other, van];
    if (!(await record("handover.sent", subject, { from, to, lines }))) return;
    if (way === "fetch" && !(await record("handover.received", subject, { place: van, lines }))) return;
    basket.draft.clear();
    tell(t(way === "give" ? "van.given" : "van.fetched", { place: others.find((o) => o.id === other)?.name }));
    onClose();
  });
  return (
    <ChoiceDrawer title={t(way === "give" ? "van.give" : "van.fetch")} tall draft={basket.draft} onClose={onClose}>
      <Which label={t(way === "give" ? "van.to" : "parts.from")} choices={others} value={other} onChange={setChosen} />
      <Finder
        first={way === "give" ? Object.keys(stock?.lines ?? {}).map((id) => `part ${id}`) : []}
        about={(i) => (left(i.id) === undefined ? "" : t("parts.onVan", { quantity: left(i.id) }))}
        onPick={basket.add}
      />
      {basket.lines.length > 0 && (
        <div className="basket-foot">
          <BasketLines basket={basket} left={left} />
          <Button variant="contained" disabled={!fine} onClick={() => move()}>
            {t(way === "give" ? "van.giveDo" : "van.fetchDo", { count: basket.lines.length })}
          </Button>
        </div>
      )}
    </ChoiceDrawer>
  );
}
