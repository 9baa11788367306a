import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { CoreError, core } from "../device/core";
import type { AnswerLine, Area, Question } from "../types";
import { isNumber } from "../ui/decimal";
import { Tag } from "../ui/Glyph";
import { say } from "../words/i18n";
import { AreaShape, emptyRow, type Row, rowOf, shapeOf } from "./AreaShape";
import { useAnswerDraft, useSheet } from "./source";

const units = ["m", "cm", "mm", "ft", "in"];

const rowsOf = (a?: Area): Row[] => a?.shapes.map(rowOf) ?? [emptyRow()];

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
    shapes: shown.map(shapeOf),
  };
  const filled = area.shapes.every((s) => s.sizes.every(isNumber));
  let size: string | undefined;
  let wrong: string | undefined;
  if (filled) {
    try {
      core("answer", { question: q, value: JSON.stringify(area) }); // which shape it is has been said
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
        <AreaShape key={i} row={r} onChange={(x) => change(i, x)} onRemove={shown.length > 1 ? () => setRows(shown.filter((_, n) => n !== i)) : undefined} />
      ))}
      <div className="area-foot">
        <button type="button" className="link" onClick={() => setRows([...shown, emptyRow()])}>
          {t("area.add")}
        </button>
        <button type="button" className="link" onClick={() => setRows([...shown, emptyRow(true)])}>
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
