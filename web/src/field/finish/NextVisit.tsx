import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { nameOf } from "../../catalogue/catalogue";
import { useDraft } from "../../draft/draft";
import type { Needed, VisitView } from "../../types";
import { decimal, isPositive, typedNumber } from "../../ui/decimal";
import { duration, quantity } from "../../ui/format";
import { useSettings } from "../device";
import { Finder } from "../parts/Finder";
import { useCatalogue } from "../parts/useCatalogue";
import { useUsual } from "../parts/usual";

const lengths = [30, 60, 120, 240];

interface Next {
  needs: { part: string; quantity: string }[];
  skills: string[];
  minutes: number;
  note: string;
}

/** What whoever comes next needs: parts, skills, time, a word. All of it may be left empty. */
export function NextVisit({ view, onDone, onBack }: { view: VisitView; onDone: (n: Needed) => void; onBack: () => void }) {
  const { t } = useTranslation();
  const settings = useSettings();
  const catalogue = useCatalogue();
  const first = useUsual(view.asset?.kind);
  const [finding, setFinding] = useState(false);
  // What was asked for here is most likely what is needed; what was planned and not used stays planned by itself.
  const asked = (view.visit.requests ?? []).filter((r) => r.part && !r.struck).map((r) => ({ part: r.part!, quantity: String(r.quantity) }));
  const draft = useDraft<Next>(`next ${view.id}`, { needs: asked, skills: [], minutes: 0, note: "" });
  const { needs, skills, minutes, note } = draft.value;
  const setNeeds = (needs: Next["needs"]) => draft.change({ needs });
  const planned = view.needs.filter((n) => decimal(n.left).gt(0));
  const fine = needs.every((n) => isPositive(n.quantity));
  const done = () => {
    // It stays until the visit has ended, and for the time after that: an end that is taken back asks for the same again.
    onDone({
      needs: needs.length ? needs.map((n) => ({ ...n, quantity: typedNumber(n.quantity) })) : undefined,
      skills: skills.length ? skills : undefined,
      minutes: minutes || undefined,
      note: note.trim() || undefined,
    });
  };
  const partName = (id: string) => {
    const item = catalogue?.item(`part ${id}`);
    return item ? nameOf(item) : id;
  };
  if (finding) {
    return (
      <>
        <h2>{t("next.parts")}</h2>
        <Finder
          first={first}
          about={() => ""}
          onPick={(i) => {
            setFinding(false);
            if (!needs.some((n) => n.part === i.id)) setNeeds([...needs, { part: i.id, quantity: "1" }]);
          }}
        />
        <button type="button" className="link" onClick={() => setFinding(false)}>
          {t("choose.back")}
        </button>
      </>
    );
  }
  return (
    <>
      <h2>{t("next.title")}</h2>
      <div className="scroll form-stack">
        <p className="small quiet">{t("next.parts")}</p>
        {planned.map((n) => (
          <p className="small" key={n.part}>
            {t("next.planned", { quantity: quantity(n.left, n.unit), part: n.name })}
          </p>
        ))}
        {needs.map((n) => (
          <p className="line" key={n.part}>
            <span className="grow">{partName(n.part)}</span>
            <TextField
              className="take-quantity"
              value={n.quantity}
              onChange={(e) => setNeeds(needs.map((x) => (x.part === n.part ? { ...x, quantity: e.target.value } : x)))}
              slotProps={{ htmlInput: { inputMode: "decimal", "aria-label": t("next.quantity", { part: partName(n.part) }) } }}
            />
            <button type="button" className="link small" onClick={() => setNeeds(needs.filter((x) => x.part !== n.part))}>
              {t("parts.drop")}
            </button>
          </p>
        ))}
        <button type="button" className="chip" onClick={() => setFinding(true)}>
          {t("next.find")}
        </button>
        <Choices
          label={t("next.skills")}
          options={(settings?.orders.skills ?? []).map((s) => ({ id: s.id, text: s.text }))}
          chosen={skills}
          onChoose={(skills) => draft.change({ skills })}
        />
        <Choices
          label={t("next.minutes")}
          options={lengths.map((m) => ({ id: String(m), text: duration(m * 60) }))}
          chosen={minutes ? [String(minutes)] : []}
          onChoose={(all) => draft.change({ minutes: Number(all.at(-1) ?? 0) })}
        />
        <TextField
          label={t("next.note")}
          value={note}
          multiline
          minRows={2}
          onChange={(e) => draft.change({ note: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
        />
      </div>
      <Button variant="contained" disabled={!fine} onClick={done}>
        {t("next.done")}
      </Button>
      <button type="button" className="link" onClick={onBack}>
        {t("choose.back")}
      </button>
    </>
  );
}

interface ChoicesProps {
  label: string;
  options: { id: string; text: string }[];
  chosen: string[];
  onChoose: (ids: string[]) => void;
}

function Choices({ label, options, chosen, onChoose }: ChoicesProps) {
  if (options.length === 0) return null;
  return (
    <fieldset className="chips">
      <legend className="small quiet">{label}</legend>
      {options.map((o) => (
        <button
          type="button"
          className="chip"
          key={o.id}
          aria-pressed={chosen.includes(o.id)}
          onClick={() => onChoose(chosen.includes(o.id) ? chosen.filter((c) => c !== o.id) : [...chosen, o.id])}
        >
          {o.text}
        </button>
      ))}
    </fieldset>
  );
}
