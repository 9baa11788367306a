/** What was drawn on a photo: over it, in ten-thousandths of its width, so that it fits at any size. */
import type { Mark, MarkForm } from "../types";
import "./drawn.css";

export const paints: Record<string, string> = { signal: "#e4002b", ink: "#101820", chalk: "#ffffff" };

const unit = 10_000;
const width = 70;

export function Drawn({ mark: m }: { mark: Mark }) {
  const p = m.points;
  const paint = paints[m.colour] ?? paints.signal;
  const line = { stroke: paint, strokeWidth: width, fill: "none", strokeLinecap: "round", strokeLinejoin: "round" } as const;
  const forms: Record<MarkForm, () => React.ReactNode> = {
    line: () => <line x1={p[0]} y1={p[1]} x2={p[2]} y2={p[3]} {...line} />,
    box: () => <rect x={Math.min(p[0], p[2])} y={Math.min(p[1], p[3])} width={Math.abs(p[2] - p[0])} height={Math.abs(p[3] - p[1])} {...line} />,
    free: () => <polyline points={pairs(p)} {...line} />,
    words: () => (
      <text
        x={p[0]}
        y={p[1]}
        fontSize={440}
        fontWeight={700}
        fill={paint}
        stroke={m.colour === "chalk" ? "#101820" : "#fff"}
        strokeWidth={60}
        paintOrder="stroke"
      >
        {m.text}
      </text>
    ),
    arrow: () => {
      const angle = Math.atan2(p[3] - p[1], p[2] - p[0]);
      const head = (turn: number) => `${p[2] - 480 * Math.cos(angle + turn)},${p[3] - 480 * Math.sin(angle + turn)}`;
      return (
        <g {...line}>
          <line x1={p[0]} y1={p[1]} x2={p[2]} y2={p[3]} />
          <polyline points={`${head(0.45)} ${p[2]},${p[3]} ${head(-0.45)}`} />
        </g>
      );
    },
  };
  return forms[m.form]?.() ?? null;
}

const pairs = (p: number[]) => {
  const out: string[] = [];
  for (let i = 0; i + 1 < p.length; i += 2) out.push(`${p[i]},${p[i + 1]}`);
  return out.join(" ");
};

/** Laid over a photo of some shape (height by width). */
export function Marks({ marks, shape }: { marks: Mark[]; shape: number }) {
  return (
    <svg className="marks" viewBox={`0 0 ${unit} ${Math.round(unit * shape)}`} aria-hidden="true" preserveAspectRatio="xMidYMid slice">
      {marks.map((m, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks have no other name than their place
        <Drawn key={i} mark={m} />
      ))}
    </svg>
  );
}
