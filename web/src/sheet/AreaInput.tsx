import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { CoreError, core } from "../device/core";
import type { AnswerLine, Area, Question, Shape, ShapeForm } from "../types";
import { isNumber, typedNumber } from "../ui/decimal";
import { Tag } from "../ui/Glyph";
import { say } from "../words/i18n";
import { useAnswerDraft, useSheet } from "./source";

const forms: ShapeForm[] = ["rectangle", "circle", "polygon"];
const units = ["m", "cm", "mm", "ft", "in"];

type Row = { form: ShapeForm; sizes: string[]; cut: boolean; corners: number };

const empty = (cut = false): Row => ({ form: "rectangle", sizes: ["", ""], cut, corners: 3 });
const sizesOf = (form: ShapeForm, corners: number) => (form === "rectangle" ? 2 : form === "circle" ? 1 : 2 * corners - 3);
const rowsOf = (a?: Area): Row[] =>
  a?.shapes.map((s) => ({ form: s.form, sizes: s.sizes, cut: !!s.cut, corners: s.form === "polygon" ? (s.sizes.length + 3) / 2 : 3 })) ?? [empty()];

/** A measured area: shapes put together and others cut out. It is worked out while it is typed, and kept once it can be. */
export default function AreaInput({ question: q, line }: { question: Question; line: AnswerLine }) {
  const { t } = useTranslation();
  const { answer, areas } = useSheet();
  const kept = line.value ? (JSON.parse(line.value) as Area) : undefined;
  const draft = useAnswerDraft<{ rows?: Row[]; unit: string; name: string }>(q, line.item, "area", { unit: kept?.unit ?? "m", name: kept?.name ?? "" });
  const { rows, unit, name } = draft.value;
  const setRows = (rows: Row[]) => draft.change({ rows });
  const shown = rows ?? rowsOf(kept);
  const area: Area = {
    name: name.trim(),
    unit,
    shapes: shown.map((r): Shape => ({ form: r.form, sizes: r.sizes.map(typedNumber), cut: r.cut || undefined })),
  };
  const filled = area.shapes.every((s) => s.sizes.every(isNumber));
  let size: string | undefined;
  let wrong: string | undefined;
  if (filled) {
    try {
      size = core("area", area).square;
    } catch (e) {
      wrong = say(e instanceof CoreError ? e.code : { code: "unreadable" });
    }
  }
  const change = (i: number, row: Partial<Row>) => setRows(shown.map((r, n) => (n === i ? { ...r, ...row } : r)));
  const save = async () => {
    if (await answer(q, line.item, JSON.stringify(area))) draft.clear();
  };
  return (
    <div className="area">
      {Object.keys(areas).length > 0 && !kept && (
        <p className="items">
          {Object.entries(areas).map(([n, value]) => (
            <button type="button" key={n} onClick={() => void answer(q, line.item, value)}>
              {t("area.again", { name: n })}
            </button>
          ))}
        </p>
      )}
      <div className="area-head">
        <TextField
          label={t("area.name")}
          value={name}
          onChange={(e) => draft.change({ name: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 100, autoComplete: "off" } }}
        />
        <TextField select label={t("area.unit")} value={unit} onChange={(e) => draft.change({ unit: e.target.value })}>
          {units.map((u) => (
            <MenuItem key={u} value={u}>
              {u}
            </MenuItem>
          ))}
        </TextField>
      </div>
      {shown.map((r, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: shapes have no other name than their place
        <ShapeRow key={i} row={r} onChange={(x) => change(i, x)} onRemove={shown.length > 1 ? () => setRows(shown.filter((_, n) => n !== i)) : undefined} />
      ))}
      <div className="area-foot">
        <button type="button" className="link" onClick={() => setRows([...shown, empty()])}>
          {t("area.add")}
        </button>
        <button type="button" className="link" onClick={() => setRows([...shown, empty(true)])}>
          {t("area.cut")}
        </button>
        <output>{size !== undefined && <b>{size} m²</b>}</output>
        <Button variant={size !== undefined && draft.begun ? "contained" : "outlined"} disabled={size === undefined} onClick={save}>
          {t("area.keep")}
        </Button>
      </div>
      <p role="alert">{wrong && <Tag kind="warn">{wrong}</Tag>}</p>
    </div>
  );
}

function ShapeRow({ row, onChange, onRemove }: { row: Row; onChange: (r: Partial<Row>) => void; onRemove?: () => void }) {
  const { t } = useTranslation();
  const reshape = (form: ShapeForm, corners = row.corners) =>
    onChange({ form, corners, sizes: Array.from({ length: sizesOf(form, corners) }, (_, i) => row.sizes[i] ?? "") });
  const label = (i: number) => {
    if (row.form === "circle") return t("area.diameter");
    if (row.form === "rectangle") return t(i === 0 ? "area.length" : "area.width");
    return i < row.corners ? t("area.side", { n: i + 1 }) : t("area.across", { n: i - row.corners + 3 });
  };
  return (
    <fieldset className="area-shape">
      <legend className="small quiet">{t(row.cut ? "area.cutShape" : "area.shape")}</legend>
      <div className="items">
        {forms.map((f) => (
          <button type="button" key={f} aria-pressed={row.form === f} onClick={() => reshape(f)}>
            {t(`area.${f}`)}
          </button>
        ))}
        {row.form === "polygon" && (
          <span className="area-corners">
            <button type="button" aria-label={t("area.fewer")} disabled={row.corners <= 3} onClick={() => reshape("polygon", row.corners - 1)}>
              −
            </button>
            {t("area.corners", { count: row.corners })}
            <button type="button" aria-label={t("area.more")} disabled={row.corners >= 12} onClick={() => reshape("polygon", row.corners + 1)}>
              +
            </button>
          </span>
        )}
        {onRemove && (
          <button type="button" className="link" onClick={onRemove}>
            {t("area.remove")}
          </button>
        )}
      </div>
      <div className="area-sizes">
        {row.sizes.map((s, i) => (
          <TextField
            // biome-ignore lint/suspicious/noArrayIndexKey: sizes are told apart by their place
            key={i}
            label={label(i)}
            value={s}
            onChange={(e) => onChange({ sizes: row.sizes.map((x, n) => (n === i ? e.target.value : x)) })}
            slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off", maxLength: 12 } }}
          />
        ))}
      </div>
    </fieldset>
  );
}
