import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Fate, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useDevice, useRecord } from "../device";
import { typedNumber } from "./useBasket";
import { useWhat, WhatField, WhatFinder } from "./What";
import { useComponents, WhatFor, whatFor } from "./Where";

const fates: Fate[] = ["scrap", "return", "core", "stock"];

/** Records a part that was taken out: one that was fitted before, one of the catalogue, or in words; and what becomes of it. */
export function RemovePart({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const [target, setTarget] = useState(() => whatFor(view));
  const components = useComponents(target.asset);
  const what = useWhat("");
  const [component, setComponent] = useState("");
  const [quantity, setQuantity] = useState("1");
  const [serial, setSerial] = useState("");
  const [fate, setFate] = useState<Fate>("scrap");
  const fitted = components.find((c) => c.id === component);
  const part = what.item?.id ?? fitted?.body.part;
  const remove = async () => {
    const body = {
      part,
      text: what.text.trim() || fitted?.body.name,
      quantity: typedNumber(quantity),
      asset: target.asset || undefined,
      task: target.task || undefined,
      serial: serial.trim() || fitted?.body.serial || undefined,
      component: component || undefined,
      fate,
      place: fate === "stock" ? me.person.van : undefined,
    };
    if (await record("part.removed", view.id, body)) onClose();
  };
  if (what.finding) {
    return (
      <WhatFinder
        view={view}
        title={t("remove.title")}
        what={what}
        onPick={(s) => {
          setComponent("");
          if (s) setSerial(s);
        }}
      />
    );
  }
  const allowed = fates.filter((f) => f !== "stock" || (part && me.person.van));
  return (
    <ChoiceDrawer title={t("remove.title")} tall onClose={onClose}>
      <div className="scroll form-stack">
        {components.length > 0 && (
          <ul aria-label={t("remove.fitted")}>
            {components.map((c) => (
              <li key={c.id}>
                <button
                  type="button"
                  className="choice"
                  aria-pressed={component === c.id}
                  onClick={() => {
                    setComponent(component === c.id ? "" : c.id);
                    what.type(c.body.name);
                    setSerial(c.body.serial ?? "");
                  }}
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
            onChange={(e) => setQuantity(e.target.value)}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
          <TextField
            label={t("parts.serial")}
            value={serial}
            onChange={(e) => setSerial(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 100, autoComplete: "off" } }}
          />
        </div>
        <WhatFor view={view} value={target} onChange={setTarget} />
        <fieldset className="chips">
          <legend className="small quiet">{t("remove.fate")}</legend>
          {allowed.map((f) => (
            <button type="button" key={f} className="chip" aria-pressed={fate === f} onClick={() => setFate(f)}>
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
