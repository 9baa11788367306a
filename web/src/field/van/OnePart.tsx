import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { decimal, isPositive, isQuantity, typedNumber } from "../../ui/decimal";
import { quantity } from "../../ui/format";
import { Sure, useSure } from "../../ui/Sure";
import { useDevice, useRecord } from "../device";
import { WhoHas } from "../parts/WhoHas";
import type { VanLine } from "./Van";

/** One part of the van: count it, throw some away, see who else has it. */
export function OnePart({ line: l, onClose }: { line: VanLine; onClose: () => void }) {
  const { t } = useTranslation();
  const { me, tell } = useDevice();
  const record = useRecord();
  const draft = useDraft(`van ${l.id}`, { counted: "", reason: "", gone: "" });
  const { counted, reason, gone } = draft.value;
  const [asking, setAsking] = useState(false);
  const stock = { type: "stock", id: me.person.van! };
  const differs = isQuantity(counted) ? decimal(typedNumber(counted)).minus(l.balance) : decimal(0);
  const tooMany = isPositive(gone) && decimal(typedNumber(gone)).gt(l.balance);
  const sure = useSure(tooMany ? t("van.goneOdd", { gone: typedNumber(gone), balance: l.balance }) : undefined);
  const count = async () => {
    const body = { part: l.id, quantity: typedNumber(counted), expected: l.balance, reason: reason.trim() || undefined };
    if (await record("stock.counted", stock, body)) {
      draft.clear();
      tell(t("van.countedNow", { part: l.part.name, quantity: quantity(typedNumber(counted), l.part.unit) }));
      onClose();
    }
  };
  const scrap = async () => {
    if (!sure.ask()) return;
    if (await record("stock.scrapped", stock, { part: l.id, quantity: typedNumber(gone), reason: reason.trim() })) {
      draft.clear();
      onClose();
    }
  };
  if (asking) return <WhoHas part={l.id} name={l.part.name} quantity="1" onClose={() => setAsking(false)} />;
  return (
    <ChoiceDrawer title={l.part.name} draft={draft} onClose={onClose}>
      <p className="small quiet">
        {l.part.number} · {t("van.book", { quantity: quantity(l.balance, l.part.unit) })}
      </p>
      <div className="form-stack">
        <div className="form-row">
          <TextField
            label={t("van.count")}
            value={counted}
            autoFocus
            onChange={(e) => draft.change({ counted: e.target.value })}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
          <Button variant="contained" disabled={!isQuantity(counted)} onClick={count}>
            {t("van.countDo")}
          </Button>
        </div>
        {!differs.isZero() && (
          <p className="small" role="status">
            {t("van.differs", { by: differs.toString() })}
          </p>
        )}
        <TextField
          label={t("van.reason")}
          value={reason}
          onChange={(e) => draft.change({ reason: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 500 } }}
        />
        <div className="form-row">
          <TextField
            label={t("van.gone")}
            value={gone}
            onChange={(e) => draft.change({ gone: e.target.value })}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
          <Button variant="outlined" disabled={!isPositive(gone) || !reason.trim()} onClick={scrap}>
            {t("van.goneDo")}
          </Button>
        </div>
        <Sure warning={sure.warning} />
        <Button variant="outlined" onClick={() => setAsking(true)}>
          {t("needs.who")}
        </Button>
      </div>
    </ChoiceDrawer>
  );
}
