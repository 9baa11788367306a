import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { CoreError, core } from "../device/core";
import type { AreaOutline, Decimal, Shape, ShapeForm } from "../types";
import { isNumber, typedNumber } from "../ui/decimal";
import css from "./AreaShape.module.css";

const forms: ShapeForm[] = ["rectangle", "circle", "polygon"];
const mostCorners = 12;

/** More shapes than these are not told apart by looking: angles are. */
const mostOutlines = 12;

/** A shape as it is typed. Of a polygon, sizes are its sides, then a distance or an angle for each corner that these leave open. */
export type Row = { form: ShapeForm; sizes: string[]; cut: boolean; corners: number; angles?: boolean[]; right?: boolean[] };

export const emptyRow = (cut = false): Row => ({ form: "rectangle", sizes: ["", ""], cut, corners: 3 });

export const rowOf = (s: Shape): Row => ({
  form: s.form,
  sizes: s.sizes,
  cut: !!s.cut,
  corners: s.form === "polygon" ? (s.sizes.length + 3) / 2 : 3,
  angles: s.angles,
  right: s.right,
});

/** A row as the core reads it. A polygon that can lie in one way alone lies so. */
export function shapeOf(r: Row): Shape {
  const shape: Shape = { form: r.form, sizes: r.sizes.map(typedNumber), cut: r.cut || undefined };
  if (r.form !== "polygon") return shape;
  if (r.angles?.some(Boolean)) shape.angles = r.angles.slice(0, r.corners - 3);
  const all = outlinesOf(shape);
  return { ...shape, right: r.right ?? (all.length === 1 ? all[0].right : undefined) };
}

/** What outlinesOf has given, by the shape: there are many to try of one with many corners, and it is asked for at each tap. */
const tried = new Map<string, AreaOutline[]>();

/** The ways that a polygon's sizes can lie; none while they are not all there, or do not meet. */
function outlinesOf({ sizes, angles }: Shape): AreaOutline[] {
  if (!sizes.every(isNumber)) return [];
  const key = JSON.stringify([sizes, angles]);
  let all = tried.get(key);
  if (!all) {
    all = [];
    try {
      all = core("outlines", { form: "polygon", sizes, angles }).outlines ?? [];
    } catch (e) {
      if (!(e instanceof CoreError)) throw e; // what is wrong is said of the whole area
    }
    if (tried.size > 50) tried.clear();
    tried.set(key, all);
  }
  return all;
}

const sizesOf = (form: ShapeForm, corners: number) => (form === "rectangle" ? 2 : form === "circle" ? 1 : 2 * corners - 3);

/** The sizes of one shape, and of a polygon a picture of it: where the sizes leave several, whoever measured says which it is. */
export function AreaShape({ row, onChange, onRemove }: { row: Row; onChange: (r: Partial<Row>) => void; onRemove?: () => void }) {
  const { t } = useTranslation();
  const resize = (form: ShapeForm, corners = row.corners) =>
    onChange({ form, corners, right: undefined, angles: undefined, sizes: Array.from({ length: sizesOf(form, corners) }, (_, i) => row.sizes[i] ?? "") });
  const tie = (i: number) => (row.form === "polygon" ? i - row.corners : -1);
  const label = (i: number) => {
    if (row.form === "circle") return t("area.diameter");
    if (row.form === "rectangle") return t(i === 0 ? "area.length" : "area.width");
    if (tie(i) < 0) return t("area.side", { n: i + 1 });
    return row.angles?.[tie(i)] ? t("area.angle", { n: tie(i) + 2 }) : t("area.across", { n: tie(i) + 3 });
  };
  const turn = (n: number) => {
    const angles = Array.from({ length: row.corners - 3 }, (_, i) => (row.angles?.[i] ?? false) !== (i === n));
    onChange({ angles, right: undefined, sizes: row.sizes.map((s, i) => (tie(i) === n ? "" : s)) });
  };
  return (
    <fieldset className="area-shape">
      <legend className="small quiet">{t(row.cut ? "area.cutShape" : "area.shape")}</legend>
      <div className="items">
        {forms.map((f) => (
          <button type="button" key={f} aria-pressed={row.form === f} onClick={() => resize(f)}>
            {t(`area.${f}`)}
          </button>
        ))}
        {row.form === "polygon" && (
          <span className="area-corners">
            <button type="button" aria-label={t("area.fewer")} disabled={row.corners <= 3} onClick={() => resize("polygon", row.corners - 1)}>
              −
            </button>
            {t("area.corners", { count: row.corners })}
            <button type="button" aria-label={t("area.more")} disabled={row.corners >= mostCorners} onClick={() => resize("polygon", row.corners + 1)}>
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
          // biome-ignore lint/suspicious/noArrayIndexKey: sizes are told apart by their place
          <div key={i}>
            <TextField
              label={label(i)}
              value={s}
              onChange={(e) => onChange({ right: undefined, sizes: row.sizes.map((x, n) => (n === i ? e.target.value : x)) })}
              slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off", maxLength: 12 } }}
            />
            {tie(i) >= 0 && (
              <button type="button" className="link" onClick={() => turn(tie(i))}>
                {t(row.angles?.[tie(i)] ? "area.byDistance" : "area.byAngle")}
              </button>
            )}
          </div>
        ))}
      </div>
      {row.form === "polygon" && row.corners > 3 && <Outlines row={row} onChoose={(right) => onChange({ right })} />}
    </fieldset>
  );
}

function Outlines({ row, onChoose }: { row: Row; onChoose: (right: boolean[]) => void }) {
  const { t } = useTranslation();
  const all = outlinesOf(shapeOf(row));
  if (all.length === 0) return null;
  if (all.length > mostOutlines) return <p className="small">{t("area.many", { count: all.length })}</p>;
  const chosen = all.length === 1 ? all[0].right : row.right;
  return (
    <>
      {all.length > 1 && <p className="small">{t("area.which")}</p>}
      <div className={css.outlines}>
        {all.map((o, i) => (
          <button
            type="button"
            key={o.right.join()}
            className={css.outline}
            aria-label={t("area.outline", { n: i + 1 })}
            aria-pressed={o.right.join() === chosen?.join()}
            onClick={() => onChoose(o.right)}
          >
            <Drawing outline={o} />
          </button>
        ))}
      </div>
    </>
  );
}

const box = 88; // the side of a drawing, in pixels

/** The corners as on a plan, the first marked. */
function Drawing({ outline }: { outline: AreaOutline }) {
  const at = outline.points.map((p) => [toNumber(p.x), -toNumber(p.y)]);
  const [xs, ys] = [at.map((p) => p[0]), at.map((p) => p[1])];
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  const scale = (box - 16) / Math.max(Math.max(...xs) - left, Math.max(...ys) - top);
  const shown = at.map(([x, y]) => [8 + (x - left) * scale, 8 + (y - top) * scale]);
  return (
    <svg width={box} height={box} aria-hidden="true">
      <polygon points={shown.map((p) => p.join()).join(" ")} />
      <circle cx={shown[0][0]} cy={shown[0][1]} r={4} />
    </svg>
  );
}

/** For drawing alone: a quantity is never a float. */
const toNumber = (d: Decimal) => Number(d);
