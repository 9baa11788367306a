import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { useDraft } from "../../draft/draft";
import type { Handover } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { decimal, isQuantity, sumsByPart, typedNumber } from "../../ui/decimal";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice, useRecord } from "../device";

interface Line {
  id: string;
  handover: Handover;
  from: string;
  to: string;
  names: string[];
  incoming: boolean;
}

function useOpen(): Line[] {
  const { db, me } = useDevice();
  const van = me.person.van;
  return (
    useLive(
      db,
      async (db) => {
        const all = (await db.all("handover")).filter((h) => !h.body.doneAt && (h.body.to === van || h.body.from === van));
        return Promise.all(
          all.map(async (h) => ({
            id: h.id,
            handover: h.body,
            from: (await db.body("place", h.body.from))?.name ?? h.body.from,
            to: (await db.body("place", h.body.to))?.name ?? h.body.to,
            names: await Promise.all(h.body.lines.map(async (l) => (await db.body("part", l.part))?.name ?? l.part)),
            incoming: h.body.to === van,
          })),
        );
      },
      [van],
    ) ?? []
  );
}

/** What is on its way to the van, to be confirmed, and what has left it and is not confirmed yet. */
export function Handovers() {
  const { t } = useTranslation();
  const open = useOpen();
  const [taking, setTaking] = useState<string>();
  const record = useRecord();
  const line = open.find((l) => l.id === taking);
  const back = (l: Line) => void record("handover.returned", { type: "handover", id: l.id }, { place: l.handover.from, lines: sumsByPart(l.handover.lines) });
  return (
    <>
      {open.map((l) => (
        <div className="line handover" key={l.id}>
          <span className="grow">
            <Tag kind={l.incoming ? "good" : "warn"}>{t(l.incoming ? "handover.in" : "handover.out", { place: l.incoming ? l.from : l.to })}</Tag>
            <span className="tiny quiet block">
              {l.handover.lines.map((x, i) => `${x.quantity} × ${l.names[i]}`).join(", ")} · {timeOrDay(l.handover.at)}
            </span>
          </span>
          {l.incoming ? (
            <Button variant="contained" onClick={() => setTaking(l.id)}>
              {t("handover.take")}
            </Button>
          ) : (
            <button type="button" className="link small" onClick={() => back(l)}>
              {t("handover.back")}
            </button>
          )}
        </div>
      ))}
      {line && <TakeOver line={line} onClose={() => setTaking(undefined)} />}
    </>
  );
}

function TakeOver({ line: l, onClose }: { line: Line; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const draft = useDraft(`take ${l.id}`, { found: l.handover.lines.map((x) => x.quantity) });
  const { found } = draft.value;
  const fine = found.every(isQuantity);
  const differs = fine && found.some((q, i) => !decimal(typedNumber(q)).eq(l.handover.lines[i].quantity));
  const take = async () => {
    const lines = l.handover.lines.map((x, i) => ({ ...x, quantity: typedNumber(found[i]) }));
    if (await record("handover.received", { type: "handover", id: l.id }, { place: l.handover.to, lines })) {
      draft.clear();
      onClose();
    }
  };
  return (
    <ChoiceDrawer title={t("handover.in", { place: l.from })} tall draft={draft} onClose={onClose}>
      {l.handover.note && <p className="pre">{l.handover.note}</p>}
      <ul className="scroll">
        {l.handover.lines.map((x, i) => (
          <li className="line" key={`${x.part} ${x.order ?? ""}`}>
            <span className="grow">{l.names[i]}</span>
            <TextField
              className="take-quantity"
              label={t("handover.arrived", { quantity: x.quantity })}
              value={found[i]}
              onChange={(e) => draft.change({ found: found.with(i, e.target.value) })}
              slotProps={{ htmlInput: { inputMode: "decimal" } }}
            />
          </li>
        ))}
      </ul>
      {differs && <p className="small">{t("handover.differHint")}</p>}
      <Button variant="contained" disabled={!fine} onClick={take}>
        {t(differs ? "handover.takeSome" : "handover.takeAll")}
      </Button>
    </ChoiceDrawer>
  );
}
