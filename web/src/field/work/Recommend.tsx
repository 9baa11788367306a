import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { nameOf } from "../../catalogue/catalogue";
import { useDraft } from "../../draft/draft";
import type { ProposalLine, Proposed, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { isPositive, typedNumber } from "../../ui/decimal";
import { useRecord } from "../device";
import { Finder } from "../parts/Finder";
import { useUsual } from "../parts/usual";
import { PhotoAdd, PhotoList } from "../visit/PhotoStrip";

type Line = Pick<ProposalLine, "text" | "part" | "unit" | "price"> & { quantity: string };

/** A recommendation to the customer: what and why, the lines it takes, a photo. */
export default function Recommend({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const first = useUsual(view.asset?.kind);
  const draft = useDraft<{ text: string; lines: Line[]; own: string }>(`recommend ${view.id}`, { text: "", lines: [], own: "" });
  const { text, lines, own } = draft.value;
  const setLines = (lines: Line[]) => draft.change({ lines });
  const [finding, setFinding] = useState(false);
  const [made, setMade] = useState("");
  const change = (i: number, quantity: string) => setLines(lines.map((l, n) => (n === i ? { ...l, quantity } : l)));
  const fine = lines.every((l) => isPositive(l.quantity));
  const save = async () => {
    const body: Proposed = {
      kind: "recommendation",
      text: text.trim(),
      asset: view.order.asset,
      lines: lines.length ? lines.map((l) => ({ ...l, quantity: typedNumber(l.quantity) })) : undefined,
    };
    const entry = await record("work.proposed", view.id, body);
    if (!entry) return;
    draft.clear();
    setMade(entry);
  };
  if (made) {
    return (
      <ChoiceDrawer title={t("recommend.photo")} onClose={onClose}>
        <PhotoList view={view} entries={(view.visit.files ?? []).filter((f) => f.about.entry === made).map((f) => f.entry)} />
        <PhotoAdd visit={view.id} about={{ entry: made }} />
        <Button variant="contained" onClick={onClose}>
          {t("ask.done")}
        </Button>
      </ChoiceDrawer>
    );
  }
  if (finding) {
    return (
      <ChoiceDrawer title={t("recommend.title")} tall onClose={() => setFinding(false)}>
        <Finder
          first={first}
          about={() => ""}
          onPick={(i) => {
            setFinding(false);
            setLines([...lines, { text: nameOf(i), part: i.id, unit: i.part?.unit, price: i.part?.price, quantity: "1" }]);
          }}
        />
      </ChoiceDrawer>
    );
  }
  return (
    <ChoiceDrawer title={t("recommend.title")} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        <TextField
          label={t("recommend.text")}
          value={text}
          autoFocus
          multiline
          minRows={2}
          onChange={(e) => draft.change({ text: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 5000 } }}
        />
        {lines.map((l, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a line has no other name while it is typed
          <p className="line" key={i}>
            <span className="grow">{l.text}</span>
            <TextField
              className="take-quantity"
              value={l.quantity}
              onChange={(e) => change(i, e.target.value)}
              slotProps={{ htmlInput: { inputMode: "decimal", "aria-label": t("next.quantity", { part: l.text }) } }}
            />
            <span className="small">{l.unit !== "each" && l.unit}</span>
            <button type="button" className="link small" onClick={() => setLines(lines.filter((_, n) => n !== i))}>
              {t("parts.drop")}
            </button>
          </p>
        ))}
        <div className="form-row">
          <TextField
            label={t("recommend.line")}
            value={own}
            onChange={(e) => draft.change({ own: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 500 } }}
          />
          <Button
            variant="outlined"
            disabled={!own.trim()}
            onClick={() => {
              draft.change({ lines: [...lines, { text: own.trim(), quantity: "1" }], own: "" });
            }}
          >
            {t("recommend.add")}
          </Button>
        </div>
        <button type="button" className="chip" onClick={() => setFinding(true)}>
          {t("recommend.part")}
        </button>
      </div>
      <Button variant="contained" disabled={!text.trim() || !fine} onClick={save}>
        {t("recommend.save")}
      </Button>
    </ChoiceDrawer>
  );
}
