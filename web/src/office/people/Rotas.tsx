import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import { DateField } from "../../form/dates";
import { useHas } from "../../session/session";
import type { PlannedPerson, Rota, Settings, Swap } from "../../types";
import { isoDate } from "../../ui/format";
import { emptyWeek } from "../../ui/hours";
import { SaveRules } from "../rules/SaveRules";
import { useRules } from "../rules/useRules";
import css from "./People.module.css";
import { DayHours } from "./WeekFields";

interface Props {
  settings: Settings;
  people: PlannedPerson[];
}

/** Who is on duty when, in turn. */
export function Rotas({ settings, people }: Props) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const rules = useRules("rotas", settings);
  const rotas = rules.now("planning", "rotas") ?? [];
  const set = (to: Rota[]) => rules.set("planning", "rotas", to.length > 0 ? to : undefined);
  const add = () =>
    set([...rotas, { id: ulid().toLowerCase(), name: "", from: isoDate(Date.now()), days: 7, people: [], hours: emptyWeek("").days as Rota["hours"] }]);
  const wrong = rotas.some(
    (r) => !r.name.trim() || !r.from || r.people.length === 0 || r.days < 1 || r.swaps?.some((s) => !s.person || !s.from || s.to < s.from),
  );
  return (
    <section className="sec" aria-label={t("rotas.title")}>
      <h2>{t("rotas.title")}</h2>
      <p className="small quiet">{t("rotas.hint")}</p>
      {rotas.map((r, i) => (
        <RotaFields key={r.id} rota={r} people={people} may={may} onChange={(to) => set(to ? rotas.with(i, to) : rotas.toSpliced(i, 1))} />
      ))}
      {may && <Button onClick={add}>{t("rotas.add")}</Button>}
      {(rotas.length > 0 || rules.any) && <SaveRules rules={rules} wrong={wrong} />}
    </section>
  );
}

interface RotaProps {
  rota: Rota;
  people: PlannedPerson[];
  may: boolean;
  /** with nothing: it goes */
  onChange: (to?: Rota) => void;
}

function RotaFields({ rota: r, people, may, onChange }: RotaProps) {
  const { t } = useTranslation();
  const name = (id: string) => people.find((p) => p.id === id)?.person.name ?? id;
  const swaps = r.swaps ?? [];
  const setSwaps = (to: Swap[]) => onChange({ ...r, swaps: to.length > 0 ? to : undefined });
  return (
    <fieldset className={css.rota} disabled={!may} aria-label={r.name || t("rotas.unnamed")}>
      <div className={css.fields}>
        <TextField
          label={t("rotas.name")}
          value={r.name}
          onChange={(e) => onChange({ ...r, name: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 100, autoComplete: "off" } }}
        />
        <DateField label={t("rotas.from")} value={r.from} disabled={!may} onChange={(from) => onChange({ ...r, from })} />
        <DateField label={t("rotas.to")} value={r.to ?? ""} disabled={!may} onChange={(to) => onChange({ ...r, to: to || undefined })} />
        <TextField
          type="number"
          label={t("rotas.days")}
          value={r.days || ""}
          onChange={(e) => onChange({ ...r, days: Math.round(Number(e.target.value)) || 0 })}
          slotProps={{ htmlInput: { min: 1, max: 366 } }}
        />
      </div>
      <ol className={css.turns}>
        {r.people.map((p, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: somebody may have two turns
          <li key={`${p} ${i}`}>
            {name(p)}{" "}
            {may && (
              <>
                <button
                  type="button"
                  className="link"
                  disabled={i === 0}
                  aria-label={t("rotas.up", { name: name(p) })}
                  onClick={() => onChange({ ...r, people: r.people.toSpliced(i, 1).toSpliced(i - 1, 0, p) })}
                >
                  {t("rotas.sooner")}
                </button>{" "}
                <button
                  type="button"
                  className="link"
                  aria-label={t("rotas.dropTurn", { name: name(p) })}
                  onClick={() => onChange({ ...r, people: r.people.toSpliced(i, 1) })}
                >
                  {t("parts.drop")}
                </button>
              </>
            )}
          </li>
        ))}
      </ol>
      {may && <Who label={t("rotas.addTurn")} people={people} value="" onChange={(p) => onChange({ ...r, people: [...r.people, p] })} />}
      <p className="small quiet">{t("rotas.hours")}</p>
      <div className={css.fields}>
        <DayHours days={r.hours} onChange={(hours) => onChange({ ...r, hours })} />
      </div>
      {swaps.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines have nothing else that tells them apart
        <div key={i} className={css.fields}>
          <DateField label={t("rotas.swapFrom")} value={s.from} disabled={!may} onChange={(from) => setSwaps(swaps.with(i, { ...s, from }))} />
          <DateField label={t("rotas.swapTo")} value={s.to} disabled={!may} onChange={(to) => setSwaps(swaps.with(i, { ...s, to }))} />
          <Who label={t("rotas.swapWith")} people={people} value={s.person} onChange={(person) => setSwaps(swaps.with(i, { ...s, person }))} />
          {may && (
            <button type="button" className="link" onClick={() => setSwaps(swaps.toSpliced(i, 1))}>
              {t("parts.drop")}
            </button>
          )}
        </div>
      ))}
      {may && (
        <p className="line">
          <button type="button" className="link" onClick={() => setSwaps([...swaps, { from: isoDate(Date.now()), to: isoDate(Date.now()), person: "" }])}>
            {t("rotas.swap")}
          </button>
          <button type="button" className="link" onClick={() => onChange()}>
            {t("rotas.drop")}
          </button>
        </p>
      )}
    </fieldset>
  );
}

/** Somebody of those who work in the field. */
function Who({ label, people, value, onChange }: { label: string; people: PlannedPerson[]; value: string; onChange: (id: string) => void }) {
  return (
    <TextField select label={label} value={value} className={css.who} onChange={(e) => onChange(e.target.value)}>
      {people.map((p) => (
        <MenuItem key={p.id} value={p.id}>
          {p.person.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
