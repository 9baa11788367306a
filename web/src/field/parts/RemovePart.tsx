import { Button, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { Fate, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { typedNumber } from "../../ui/decimal";
import { useDevice, useRecord } from "../device";
import { useWhat, type WhatDraft, WhatField, WhatFinder } from "./What";
import { useComponents, WhatFor, whatFor } from "./Where";

const fates: Fate[] = ["scrap", "return", "core", "stock"];

/** What is typed of a part that was taken out. */
interface Removing extends WhatDraft {
  target: { asset: string; task: string };
  component: string;
  quantity: string;
  serial: string;
  fate: Fate;
}

/** Records a part that was taken out: one that was fitted before, one of the catalogue, or in words; and what becomes of it. */
export function RemovePart({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const draft = useDraft<Removing>(`remove ${view.id}`, { text: "", target: whatFor(view), component: "", quantity: "1", serial: "", fate: "scrap" });
  const { target, component, quantity, serial, fate } = draft.value;
  const components = useComponents(target.asset);
  const what = useWhat(draft);
  const fitted = components.find((c) => c.id === component);
  const part = what.item?.id ?? fitted?.body.part;
  const remove = async () => {
    const body = {
      part,
      text: what.text.trim() || fitted?.body.name || "",
      quantity: typedNumber(quantity),
      asset: target.asset || undefined,
      task: target.task || undefined,
      serial: serial.trim() || fitted?.body.serial || undefined,
      component: component || undefined,
      fate,
      place: fate === "stock" ? me.person.van : undefined,
    };
    if (!(await record("part.removed", view.id, body))) return;
    draft.clear();
    onClose();
  };
  if (what.finding) {
    return <WhatFinder view={view} title={t("remove.title")} what={what} onPick={(s) => draft.change({ component: "", ...(s && { serial: s }) })} />;
  }
  const allowed = fates.filter((f) => f !== "stock" || (part && me.person.van));
  return (
    <ChoiceDrawer title={t("remove.title")} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        {components.length > 0 && (
          <ul aria-label={t("remove.fitted")}>
            {components.map((c) => (
              <li key={c.id}>
                <button
                  type="button"
                  className="choice"
                  aria-pressed={component === c.id}
                  onClick={() => draft.change({ component: component === c.id ? "" : c.id, text: c.body.name, item: undefined, serial: c.body.serial ?? "" })}
                >
                  <span>
                    <span className="strong">{c.body.name}</span>
                    <span className="tiny quiet block">
                      {c.body.serial} · {t("remove.since", { date: c.body.installed })}
                      {c.body.warranty && ` · ${t("remove.covered", { date: c.body.warranty })}`}
                    </span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        )}
        <WhatField what={what} label={t("remove.what")} />
        <div className="form-row">
          <TextField
            label={t("parts.quantity")}
            value={quantity}
            onChange={(e) => draft.change({ quantity: e.target.value })}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
          <TextField
            label={t("parts.serial")}
            value={serial}
            onChange={(e) => draft.change({ serial: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 100, autoComplete: "off" } }}
          />
        </div>
        <WhatFor view={view} value={target} onChange={(target) => draft.change({ target })} />
        <fieldset className="chips">
          <legend className="small quiet">{t("remove.fate")}</legend>
          {allowed.map((f) => (
            <button type="button" key={f} className="chip" aria-pressed={fate === f} onClick={() => draft.change({ fate: f })}>
              {t(`fate.${f}`)}
            </button>
          ))}
        </fieldset>
      </div>
      <Button variant="contained" disabled={what.bad(quantity) || !(what.text.trim() || part)} onClick={remove}>
        {t("remove.do")}
      </Button>
    </ChoiceDrawer>
  );
}
