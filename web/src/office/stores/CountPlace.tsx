import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Shelf } from "../../types";
import { decimal, isQuantity, typedNumber } from "../../ui/decimal";
import { quantity } from "../../ui/format";
import { Failure, useCommands } from "../queries";

/** Counts a place part by part: what was counted is booked at once, with a word about what differs. */
export function CountPlace({ shelf, onDone }: { shelf: Shelf; onDone: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [found, setFound] = useState<Record<string, string>>({});
  const [reason, setReason] = useState("");
  const counted = shelf.lines.filter((l) => (found[l.part] ?? "").trim() !== "");
  const differ = counted.filter((l) => isQuantity(found[l.part]) && !decimal(typedNumber(found[l.part])).eq(l.balance));
  const book = () =>
    commands.mutate(
      counted.map((l) => ({
        kind: "stock.counted",
        subject: { type: "stock", id: shelf.place.id },
        body: { part: l.part, quantity: typedNumber(found[l.part]), expected: l.balance, reason: differ.includes(l) ? reason.trim() || undefined : undefined },
      })),
      { onSuccess: onDone },
    );
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        book();
      }}
    >
      <table className="table">
        <thead>
          <tr>
            <th>{t("picks.part")}</th>
            <th className="num">{t("places.balance")}</th>
            <th>{t("van.count")}</th>
          </tr>
        </thead>
        <tbody>
          {shelf.lines.map((l) => (
            <tr key={l.part}>
              <td>
                {l.name} <span className="small quiet">{l.number}</span>
              </td>
              <td className="num">{quantity(l.balance, l.unit)}</td>
              <td>
                <TextField
                  className="take-quantity"
                  value={found[l.part] ?? ""}
                  error={(found[l.part] ?? "").trim() !== "" && !isQuantity(found[l.part])}
                  onChange={(e) => setFound({ ...found, [l.part]: e.target.value })}
                  slotProps={{ htmlInput: { inputMode: "decimal", "aria-label": t("count.of", { part: l.name }) } }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="stores-bar count-foot">
        {differ.length > 0 && (
          <>
            <span>{t("count.differ", { count: differ.length })}</span>
            <TextField label={t("count.why")} value={reason} onChange={(e) => setReason(e.target.value)} slotProps={{ htmlInput: { maxLength: 500 } }} />
          </>
        )}
        <Button type="submit" variant="contained" disabled={counted.length === 0 || counted.some((l) => !isQuantity(found[l.part])) || commands.isPending}>
          {t("count.book", { count: counted.length })}
        </Button>
        <Failure error={commands.error} />
      </div>
    </form>
  );
}
