import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { May } from "../../session/May";
import type { Fill, FillLine } from "../../types";
import { decimal, isNumber, isQuantity, least, typedNumber } from "../../ui/decimal";
import { Empty } from "../../ui/Empty";
import { Tag } from "../../ui/Glyph";
import { Answer, Failure, useCommands } from "../queries";
import { purchasesOf } from "./buy";
import { useFills } from "./queries";

/** What each place should be filled up with, from its levels, what was used and what tomorrow needs. */
export function FillUp() {
  const { t } = useTranslation();
  const query = useFills();
  return (
    <section>
      <h2>{t("fill.title")}</h2>
      <p className="small quiet">{t("fill.hint")}</p>
      <Answer query={query}>{(fills) => (fills.length === 0 ? <Empty>{t("fill.none")}</Empty> : fills.map((f) => <Place key={f.place.id} fill={f} />))}</Answer>
    </section>
  );
}

function Place({ fill: f }: { fill: Fill }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [typed, setTyped] = useState<Record<string, string>>({});
  const store = f.place.kind === "store";
  // A van is given no more than the store has; the rest is on the store's own list.
  const proposed = (l: FillLine) => (store ? l.quantity : least(l.quantity, l.there));
  const wanted = (l: FillLine) => typedNumber(typed[l.part] ?? proposed(l));
  const lines = f.lines.filter((l) => wanted(l) !== "" && !(isNumber(wanted(l)) && decimal(wanted(l)).lte(0)));
  const fine = lines.length > 0 && lines.every((l) => isQuantity(wanted(l)));
  const go = () =>
    commands.mutate(
      store
        ? purchasesOf(
            lines.map((l) => ({ part: l.part, quantity: wanted(l), cost: l.cost, supplier: l.supplier || "other" })),
            f.place.id,
            commands.idOf,
          )
        : [
            {
              kind: "handover.sent",
              subject: { type: "handover", id: commands.idOf("handover") },
              body: { from: f.from.id, to: f.place.id, lines: lines.map((l) => ({ part: l.part, quantity: wanted(l) })), note: t("fill.note") },
            },
          ],
      { onSuccess: () => setTyped({}) },
    );
  return (
    <section className="pick" aria-label={f.place.name}>
      <h3>
        {f.place.name} <span className="quiet">{f.place.personName}</span>
      </h3>
      <table className="table">
        <thead>
          <tr>
            <th>{t("picks.part")}</th>
            <th className="num">{t("fill.has")}</th>
            <th className="num">{t("fill.levels")}</th>
            <th className="num">{t("fill.used")}</th>
            <th className="num">{t("fill.needed")}</th>
            {!store && <th className="num">{t("picks.there")}</th>}
            <th>{t("fill.quantity")}</th>
          </tr>
        </thead>
        <tbody>
          {f.lines.map((l) => (
            <tr key={l.part}>
              <td>
                {l.name} <span className="small quiet">{l.number}</span>
              </td>
              <td className="num">
                {l.why.balance}
                {decimal(l.why.incoming).gt(0) && <span className="quiet"> + {l.why.incoming}</span>}
              </td>
              <td className="num">{decimal(l.why.level.max).gt(0) ? `${l.why.level.min} – ${l.why.level.max}` : "–"}</td>
              <td className="num">{l.why.used}</td>
              <td className="num">{decimal(l.why.needed).gt(0) ? l.why.needed : "–"}</td>
              {!store && <td className="num">{decimal(l.there).lt(l.quantity) ? <Tag kind="bad">{l.there}</Tag> : l.there}</td>}
              <td className="nowrap">
                <TextField
                  className="take-quantity"
                  value={typed[l.part] ?? proposed(l)}
                  onChange={(e) => setTyped({ ...typed, [l.part]: e.target.value })}
                  slotProps={{ htmlInput: { inputMode: "decimal", "aria-label": t("fill.of", { part: l.name }) } }}
                />{" "}
                {l.unit !== "each" && l.unit}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="stores-bar">
        <May right={store ? "purchase.made" : "handover.sent"}>
          <Button variant="contained" disabled={!fine || commands.isPending} onClick={go}>
            {store ? t("fill.order", { count: lines.length }) : t("fill.transfer", { count: lines.length, from: f.from.name })}
          </Button>
        </May>
        <Failure error={commands.error} />
      </p>
    </section>
  );
}
