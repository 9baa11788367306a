import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Need } from "../../types";
import { isPositive } from "../../ui/decimal";
import { FindPart } from "./FindPart";
import { useCatalogue } from "./queries";

/** Parts that work will need, while it is opened, or those that were used. */
export function NeedsField({ needs, legend, onChange }: { needs: Need[]; legend?: string; onChange: (needs: Need[]) => void }) {
  const { t } = useTranslation();
  const catalogue = useCatalogue();
  const [adding, setAdding] = useState(false);
  return (
    <fieldset className="needs-field">
      <legend className="small quiet">{legend ?? t("intake.parts")}</legend>
      {needs.map((n) => {
        const part = catalogue?.item(`part ${n.part}`)?.part;
        return (
          <p className="line" key={n.part}>
            <span className="grow">
              {part?.name ?? n.part} <span className="small quiet">{part?.number}</span>
            </span>
            <TextField
              className="take-quantity"
              value={n.quantity}
              onChange={(e) => onChange(needs.map((x) => (x === n ? { ...x, quantity: e.target.value } : x)))}
              slotProps={{ htmlInput: { inputMode: "decimal", "aria-label": t("parts.quantity") } }}
            />
            <span>{part && part.unit !== "each" && part.unit}</span>
            <button type="button" className="link small" onClick={() => onChange(needs.filter((x) => x !== n))}>
              {t("parts.drop")}
            </button>
          </p>
        );
      })}
      <button type="button" className="link" onClick={() => setAdding(true)}>
        {t(legend ? "needs.addUsed" : "needs.add")}
      </button>
      {adding && (
        <FindPart
          title={t("needs.add")}
          onPick={(part) => {
            setAdding(false);
            if (!needs.some((n) => n.part === part)) onChange([...needs, { part, quantity: "1" }]);
          }}
          onClose={() => setAdding(false)}
        />
      )}
    </fieldset>
  );
}

/** Whether every quantity is one. */
export const needsFine = (needs: Need[]) => needs.every((n) => isPositive(n.quantity));
