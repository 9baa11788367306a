/** What a machine reported that an order or an incident is about: since when, the curve, and whether it is well again. */
import { useTranslation } from "react-i18next";
import type { Reported as Value } from "../types";
import { time, timeOrDay } from "./format";
import { Tag } from "./Glyph";
import { plainValue } from "./plainValue";
import css from "./Reported.module.css";

const wide = 320;
const high = 90;
const edge = 6;

interface Props {
  point?: string;
  unit?: string;
  since: string;
  well?: string;
  values?: Value[];
  limit?: string;
}

export function Reported({ point, unit = "", since, well, values = [], limit }: Props) {
  const { t } = useTranslation();
  const last = values.at(-1);
  return (
    <div className={css.reported}>
      <p className="small">
        {t(point ? "signals.reportedPoint" : "signals.reported", { point, time: timeOrDay(since) })}{" "}
        {last && <span className="strong">{t("signals.last", { value: plainValue(last.value), unit })}</span>}
      </p>
      {well && (
        <p className="small">
          <Tag kind="good">{t("signals.well", { time: timeOrDay(well) })}</Tag>
        </p>
      )}
      <Curve values={values} limit={limit} since={since} unit={unit} />
    </div>
  );
}

/** Values over time to scale, with the limit as a line across and when it began to be wrong. The words beside it say the same. */
function Curve({ values, limit, since, unit }: { values: Value[]; limit?: string; since: string; unit: string }) {
  if (values.length < 2) return null;
  const points = values.map((v) => ({ at: Date.parse(v.at), value: Number(v.value) }));
  const ends = limit === undefined ? points.map((p) => p.value) : [...points.map((p) => p.value), Number(limit)];
  const [low, top] = [Math.min(...ends), Math.max(...ends)];
  const [first, last] = [points[0].at, points[points.length - 1].at];
  const x = (at: number) => edge + ((wide - 2 * edge) * (at - first)) / (last - first || 1);
  const y = (v: number) => edge + (high - 2 * edge) * (1 - (v - low) / (top - low || 1));
  const began = Date.parse(since);
  return (
    <figure className={css.curve}>
      <svg viewBox={`0 0 ${wide} ${high}`} aria-hidden="true">
        {limit !== undefined && <line className={css.limit} x1={0} x2={wide} y1={y(Number(limit))} y2={y(Number(limit))} />}
        {began > first && began < last && <line className={css.began} x1={x(began)} x2={x(began)} y1={0} y2={high} />}
        <polyline points={points.map((p) => `${x(p.at)},${y(p.value)}`).join(" ")} />
        <circle cx={x(last)} cy={y(points[points.length - 1].value)} r={3} />
      </svg>
      <figcaption className="tiny quiet">
        <span>{time(first)}</span>
        <span>
          {low === top ? `${top}` : `${low} – ${top}`} {unit}
        </span>
        <span>{time(last)}</span>
      </figcaption>
    </figure>
  );
}
