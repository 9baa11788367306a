import { Button, MenuItem, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import { type Instrument, useInstrument } from "../../device/instruments";
import { useDraft } from "../../draft/draft";
import type { Judged, Machine, MeasuredPoint, VisitView } from "../../types";
import { isNumber, signed, typedNumber } from "../../ui/decimal";
import { Tag } from "../../ui/Glyph";
import { LevelTag } from "../../ui/Level";
import { say } from "../../words/i18n";
import { useCore, useDevice, useRecord } from "../device";
import { PhotoStrip } from "./PhotoStrip";

/** What was typed of a reading: the value in a unit, what gave it, and of a counter that was changed for another the last of the old and the first of the new. */
interface Typed {
  text: string;
  unit: string;
  from?: string;
  replaced?: { last: string; start: string };
}

interface Props {
  machine: Machine;
  point: MeasuredPoint;
  view: VisitView;
  onSaved: () => void;
}

/** Where a value is typed, in the gauge's unit, and how it lies to the limits and to the last time while it is. */
export function ReadingEntry({ machine, point, view, onSaved }: Props) {
  const { t } = useTranslation();
  const ready = useCore();
  const record = useRecord();
  const draft = useDraft<Typed>(`reading ${view.id} ${machine.id} ${point.id}`, { text: "", unit: point.units[0] });
  const { text, unit, from, replaced } = draft.value;
  const [asked, setAsked] = useState(false);
  const [more, setMore] = useState(false);
  const old =
    replaced && isNumber(replaced.last) && isNumber(replaced.start) ? { last: typedNumber(replaced.last), start: typedNumber(replaced.start) } : undefined;
  const judged: Judged | undefined = ready && text.trim() ? core("judge", { point, text, unit, before: point.before, replaced: old }) : undefined;
  const type = (typed: Partial<Typed>) => {
    draft.change({ from: undefined, ...typed });
    setAsked(false);
  };
  const save = async (e: FormEvent) => {
    e.preventDefault();
    if (!judged?.value) return;
    if (judged.doubt && !asked) {
      setAsked(true); // asked once; the second tap keeps it
      return;
    }
    const body = { asset: machine.id, kind: machine.asset.kind || undefined, point: point.id, value: judged.value, unit, replaced: old, from };
    if (await record("reading.taken", view.id, body)) {
      draft.clear();
      setAsked(false);
      onSaved();
    }
  };
  return (
    <form className="point-entry" onSubmit={save}>
      <TextField
        label={t("readings.value", { point: point.name, unit })}
        value={text}
        onChange={(e) => type({ text: e.target.value })}
        error={!!judged?.error}
        helperText={judged?.error ? say(judged.error) : from && t("readings.from", { instrument: from })}
        slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off" } }}
      />
      {point.units.length > 1 && (
        <TextField select label={t("readings.unit")} value={unit} onChange={(e) => draft.change({ unit: e.target.value })} className="point-unit">
          {point.units.map((u) => (
            <MenuItem key={u} value={u}>
              {u}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Button type="submit" variant={judged?.value ? "contained" : "outlined"} disabled={!judged?.value}>
        {t(judged?.doubt && asked ? "readings.keep" : "readings.save")}
      </Button>
      <Says judged={judged} point={point} asked={asked} />
      <span className="point-more">
        <FromInstrument unit={point.unit} last={point.before.at(-1)?.value} onValue={(text, unit, from) => type({ text, unit, from })} />
        {point.counter && (
          <button
            type="button"
            className="link small"
            aria-pressed={!!replaced}
            onClick={() => draft.change({ replaced: replaced ? undefined : { last: point.before.at(-1)?.value ?? "", start: "0" } })}
          >
            {t("readings.replaced")}
          </button>
        )}
        <button type="button" className="link small" aria-expanded={more} onClick={() => setMore(!more)}>
          {t("readings.photo")}
        </button>
      </span>
      {replaced && (
        <span className="point-replaced">
          <TextField
            label={t("readings.oldLast", { unit })}
            value={replaced.last}
            onChange={(e) => draft.change({ replaced: { ...replaced, last: e.target.value } })}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
          <TextField
            label={t("readings.newStart", { unit })}
            value={replaced.start}
            onChange={(e) => draft.change({ replaced: { ...replaced, start: e.target.value } })}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
        </span>
      )}
      {more && (
        <span className="point-photo">
          <PhotoStrip view={view} about={{ asset: machine.id, point: point.id }} />
        </span>
      )}
    </form>
  );
}

/** What there is to say of what was typed. */
function Says({ judged, point, asked }: { judged?: Judged; point: MeasuredPoint; asked: boolean }) {
  const { t } = useTranslation();
  if (!judged?.value) return null;
  return (
    <span className="point-judged" role="status">
      {judged.level && <LevelTag level={judged.level} />}
      {judged.shown && <span className="small">{t("readings.is", { value: judged.shown, unit: point.unit })}</span>}
      {judged.change && (
        <span className="small quiet">{t(point.counter ? "readings.moved" : "readings.changed", { change: `${signed(judged.change)} ${point.unit}` })}</span>
      )}
      {judged.doubt && <Tag kind={asked ? "bad" : "warn"}>{t(asked ? "readings.sure" : `doubt.${judged.doubt}`)}</Tag>}
    </span>
  );
}

/** A wireless instrument that measures in this unit gives the value, when there is one near. */
function FromInstrument({ unit, last, onValue }: { unit: string; last?: string; onValue: (value: string, unit: string, name: string) => void }) {
  const { t } = useTranslation();
  const { tell, me } = useDevice();
  const instrument = useInstrument(unit, me);
  const [busy, setBusy] = useState(false);
  if (!instrument) return null;
  const ask = async (i: Instrument) => {
    setBusy(true);
    try {
      const got = await i.read(unit, last === undefined ? undefined : Number(last));
      onValue(got.value, got.unit, i.name);
    } catch {
      tell(t("readings.instrumentLost", { name: instrument.name }));
    }
    setBusy(false);
  };
  return (
    <button type="button" className="link small" disabled={busy} onClick={() => ask(instrument)}>
      {busy ? t("readings.listening") : t("readings.ask", { name: instrument.name })}
    </button>
  );
}
