/** What a part is: in words, or out of the catalogue. */

import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { type Item, nameOf } from "../../catalogue/catalogue";
import type { Draft } from "../../draft/draft";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { isPositive } from "../../ui/decimal";
import { Finder } from "./Finder";
import { inUnit } from "./useBasket";
import { useUsual } from "./usual";

/** The part of a form's draft that says what part is meant. */
export interface WhatDraft {
  text: string;
  item?: Item;
}

/** What was chosen or typed: choosing fills in the words, typing others lets go of the part. */
export function useWhat(draft: Draft<WhatDraft>) {
  const { text, item } = draft.value;
  const [finding, setFinding] = useState(false);
  return {
    text,
    item,
    finding,
    setFinding,
    type: (text: string) => draft.change({ text, item: undefined }),
    pick: (item: Item) => {
      draft.change({ item, text: nameOf(item) });
      setFinding(false);
    },
    /** Whether a quantity of it can't be meant. */
    bad: (quantity: string) => (item?.part ? !!inUnit({ of: item.part, quantity, unit: item.part.unit }).problem : !isPositive(quantity)),
  };
}

type What = ReturnType<typeof useWhat>;

export function WhatField({ what, label, autoFocus }: { what: What; label: string; autoFocus?: boolean }) {
  const { t } = useTranslation();
  return (
    <div className="form-row">
      <TextField
        label={label}
        value={what.text}
        autoFocus={autoFocus}
        onChange={(e) => what.type(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 500, autoComplete: "off" } }}
      />
      <Button variant="outlined" onClick={() => what.setFinding(true)}>
        {t("remove.find")}
      </Button>
    </div>
  );
}

/** The catalogue, while something is looked for in it. */
export function WhatFinder({ view, title, what, onPick }: { view: VisitView; title: string; what: What; onPick?: (serial?: string) => void }) {
  const first = useUsual(view.asset?.kind);
  return (
    <ChoiceDrawer title={title} tall onClose={() => what.setFinding(false)}>
      <Finder
        first={first}
        text={what.item ? "" : what.text}
        about={() => ""}
        onPick={(i, serial) => {
          what.pick(i);
          onPick?.(serial);
        }}
      />
    </ChoiceDrawer>
  );
}
