/** The last values as a small line between their limits, the newest at the right. The words beside it say the same. */
import type { Point } from "../types";
import "./drawn.css";

type Limits = Pick<Point, "alarmLow" | "warnLow" | "warnHigh" | "alarmHigh">;

const wide = 84;
const high = 30;

interface Props {
  values: string[];
  limits: Limits;
  /** whether the last value is of this visit */
  now: boolean;
}

export function Trend({ values, limits, now }: Props) {
  const numbers = values.map(Number).filter(Number.isFinite);
  if (numbers.length < 2) return null;
  const marks = [limits.alarmLow, limits.warnLow, limits.warnHigh, limits.alarmHigh].map((m) => (m === undefined ? undefined : Number(m)));
  // A limit far from all values would flatten them: those that are near are drawn.
  const [low, top] = [Math.min(...numbers), Math.max(...numbers)];
  const reach = Math.max((top - low) * 1.5, Math.abs(top) / 2);
  const near = marks.filter((m) => m !== undefined && m >= low - reach && m <= top + reach) as number[];
  const least = Math.min(low, ...near);
  const most = Math.max(top, ...near);
  const y = (v: number) => 3 + (high - 6) * (1 - (v - least) / (most - least || 1));
  const x = (i: number) => 4 + ((wide - 8) * i) / (numbers.length - 1);
  return (
    <svg className="trend" viewBox={`0 0 ${wide} ${high}`} width={wide} height={high} aria-hidden="true">
      {marks.map(
        (m, i) =>
          m !== undefined &&
          m >= least &&
          m <= most && <line key={["al", "wl", "wh", "ah"][i]} x1={0} x2={wide} y1={y(m)} y2={y(m)} className={i === 0 || i === 3 ? "alarm" : "warn"} />,
      )}
      <polyline points={numbers.map((v, i) => `${x(i)},${y(v)}`).join(" ")} />
      <circle cx={x(numbers.length - 1)} cy={y(numbers[numbers.length - 1])} r={now ? 4 : 2.5} />
    </svg>
  );
}
