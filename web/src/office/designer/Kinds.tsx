import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { May } from "../../session/May";
import type { AssetKind, Derived, KindLine, Point } from "../../types";
import { typedNumber } from "../../ui/decimal";
import { PageHead } from "../../ui/PageHead";
import { Answer, Failure, useCommands, useKinds } from "../queries";
import { idOf } from "./draft";
import "./designer.css";

/** Kinds of machines: what is measured on them, between which limits, and what follows from it. */
export function Kinds() {
  const { t } = useTranslation();
  const kinds = useKinds();
  const [open, setOpen] = useState<string>();
  return (
    <main className="review">
      <p className="small quiet">
        <Link to="/office/setup">{t("office.setup")}</Link>
      </p>
      <PageHead title={t("kinds.title")} />
      <Answer query={kinds}>
        {(lines) => (
          <>
            <div className="kinds-list" role="group" aria-label={t("kinds.title")}>
              {lines.map((l) => (
                <button type="button" key={l.id} aria-pressed={l.id === open} onClick={() => setOpen(l.id)}>
                  {l.kind.name}
                </button>
              ))}
            </div>
            <May right="record.created assetkind">
              <NewKind taken={lines} onMade={setOpen} />
            </May>
            {lines
              .filter((l) => l.id === open)
              .map((l) => (
                <Editor key={l.id} line={l} />
              ))}
          </>
        )}
      </Answer>
    </main>
  );
}

function NewKind({ taken, onMade }: { taken: KindLine[]; onMade: (id: string) => void }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [name, setName] = useState("");
  const twice = taken.some((l) => l.kind.name.trim().toLowerCase() === name.trim().toLowerCase());
  const make = () => {
    const id = idOf(
      name,
      taken.map((l) => l.id),
    );
    commands.mutate([{ kind: "record.created", subject: { type: "assetkind", id }, body: { name: name.trim() } }], {
      onSuccess: () => {
        setName("");
        onMade(id);
      },
    });
  };
  return (
    <form
      className="sheets-new"
      onSubmit={(e) => {
        e.preventDefault();
        make();
      }}
    >
      <TextField
        size="small"
        label={t("kinds.new")}
        value={name}
        onChange={(e) => setName(e.target.value)}
        error={twice}
        helperText={twice && t("kinds.twice")}
      />
      <Button type="submit" variant="outlined" disabled={!name.trim() || twice || commands.isPending}>
        {t("sheets.create")}
      </Button>
      <Failure error={commands.error} />
    </form>
  );
}

const limits = ["alarmLow", "warnLow", "warnHigh", "alarmHigh"] as const;
const bounds = ["least", "most"] as const;

function Editor({ line }: { line: KindLine }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [kind, changeKind] = useState<AssetKind>();
  const [had, setHad] = useState(line.kind); // as it was before the first change
  const shown = kind ?? line.kind;
  const setKind = (k?: AssetKind) => {
    if (!kind) setHad(line.kind);
    changeKind(k);
  };
  const points = shown.points ?? [];
  const derived = shown.derived ?? [];
  const putPoint = (i: number, f: Partial<Point>) => setKind({ ...shown, points: points.map((p, n) => (n === i ? { ...p, ...f } : p)) });
  const putDerived = (i: number, f: Partial<Derived>) => setKind({ ...shown, derived: derived.map((p, n) => (n === i ? { ...p, ...f } : p)) });
  const names = [...points.map((p) => p.id), ...derived.map((d) => d.id)];
  const save = () =>
    commands.mutate(
      [
        {
          kind: "record.amended",
          subject: { type: "assetkind", id: line.id },
          body: { name: shown.name, points, derived },
          base: { name: had.name, points: had.points ?? null, derived: had.derived ?? null },
        },
      ],
      { onSuccess: () => setKind(undefined) },
    );
  return (
    <section className="sec">
      <TextField label={t("sheets.name")} value={shown.name} onChange={(e) => setKind({ ...shown, name: e.target.value })} />
      <h2>{t("kinds.points")}</h2>
      <table className="table kinds-table">
        <thead>
          <tr>
            {[
              "kinds.id",
              "kinds.name",
              "designer.unit",
              ...limits.map((l) => `limit.${l}`),
              ...bounds.map((b) => `kinds.${b}`),
              "kinds.counter",
              "kinds.rolls",
            ].map((h) => (
              <th key={h}>{t(h as "kinds.id")}</th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {points.map((p, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a point's id can be typed over
            <tr key={i}>
              <Cell label={t("kinds.id")} value={p.id} mono onChange={(id) => putPoint(i, { id })} />
              <Cell label={t("kinds.name")} value={p.name} wide onChange={(name) => putPoint(i, { name })} />
              <Cell label={t("designer.unit")} value={p.unit} onChange={(unit) => putPoint(i, { unit })} />
              {[...limits, ...bounds].map((l) => (
                <Cell key={l} label={`${p.name} ${l}`} value={p[l] ?? ""} number onChange={(v) => putPoint(i, { [l]: v || undefined })} />
              ))}
              <td>
                <input
                  type="checkbox"
                  aria-label={t("kinds.counter")}
                  checked={!!p.counter}
                  onChange={(e) => putPoint(i, { counter: e.target.checked || undefined, rollsAt: undefined })}
                />
              </td>
              <Cell label={t("kinds.rolls")} value={p.rollsAt ?? ""} number size={9} onChange={(v) => putPoint(i, { rollsAt: v || undefined })} />
              <td>
                <button type="button" className="link small" onClick={() => setKind({ ...shown, points: points.filter((_, n) => n !== i) })}>
                  {t("rule.remove")}
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <button type="button" className="link" onClick={() => setKind({ ...shown, points: [...points, { id: idOf("point", names), name: "", unit: "" }] })}>
        {t("kinds.addPoint")}
      </button>
      <h2>{t("kinds.derived")}</h2>
      {derived.map((d, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: its id can be typed over
        <div key={i} className="kinds-derived">
          <TextField size="small" label={t("kinds.name")} value={d.name} onChange={(e) => putDerived(i, { name: e.target.value })} />
          <TextField
            size="small"
            className="grow"
            label={t("designer.formula")}
            value={d.formula}
            onChange={(e) => putDerived(i, { formula: e.target.value })}
            slotProps={{ htmlInput: { spellCheck: false, className: "mono" } }}
          />
          <TextField size="small" className="narrow" label={t("designer.unit")} value={d.unit} onChange={(e) => putDerived(i, { unit: e.target.value })} />
          <TextField
            size="small"
            className="narrow"
            label={t("designer.places")}
            value={d.places}
            onChange={(e) => /^[0-6]?$/.test(e.target.value) && putDerived(i, { places: Number(e.target.value) })}
          />
          {limits.map((l) => (
            <TextField
              key={l}
              size="small"
              className="limit"
              label={t(`limit.${l}`)}
              value={d[l] ?? ""}
              onChange={(e) => putDerived(i, { [l]: e.target.value || undefined })}
            />
          ))}
          <button type="button" className="link small" onClick={() => setKind({ ...shown, derived: derived.filter((_, n) => n !== i) })}>
            {t("rule.remove")}
          </button>
        </div>
      ))}
      <button
        type="button"
        className="link"
        onClick={() => setKind({ ...shown, derived: [...derived, { id: idOf("derived", names), name: "", unit: "", places: 1, formula: "" }] })}
      >
        {t("kinds.addDerived")}
      </button>
      <p className="small quiet">{t("kinds.formulaHint")}</p>
      <p className="line">
        <span className="grow">
          <Failure error={commands.error} />
        </span>
        <May right="record.amended assetkind">
          <Button variant="contained" disabled={!kind || commands.isPending} onClick={save}>
            {t("records.save")}
          </Button>
        </May>
      </p>
    </section>
  );
}

function Cell({
  label,
  value,
  mono,
  wide,
  number,
  size,
  onChange,
}: {
  label: string;
  value: string;
  mono?: boolean;
  wide?: boolean;
  number?: boolean;
  size?: number;
  onChange: (v: string) => void;
}) {
  return (
    <td>
      <input
        aria-label={label}
        className={mono ? "mono" : undefined}
        size={size ?? (wide ? 18 : 6)}
        value={value}
        inputMode={number ? "decimal" : "text"}
        onChange={(e) => (!number || /^-?\d*[.,]?\d*$/.test(e.target.value)) && onChange(number ? typedNumber(e.target.value) : e.target.value)}
      />
    </td>
  );
}
