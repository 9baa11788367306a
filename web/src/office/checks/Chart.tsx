import { ChartsReferenceLine } from "@mui/x-charts/ChartsReferenceLine";
import { LineChart } from "@mui/x-charts/LineChart";
import { useTranslation } from "react-i18next";
import type { Series } from "../../types";
import { shortDate } from "../../ui/format";

const marks = ["alarmLow", "warnLow", "warnHigh", "alarmHigh"] as const;

/** A series over time, with its limits as lines across. */
export default function Chart({ series: s }: { series: Series }) {
  const { t } = useTranslation();
  const values = s.values.map((v) => ({ at: new Date(v.at), value: Number(v.value) }));
  if (values.length < 2) return <p className="quiet">{t("measured.few")}</p>;
  const numbers = values.map((v) => v.value);
  const limits = marks.flatMap((m) => (s[m] === undefined ? [] : [{ mark: m, y: Number(s[m]) }]));
  const span = Math.max(...numbers) - Math.min(...numbers) || 1;
  // A limit far from all values would flatten them: it is said in words instead.
  const near = limits.filter((l) => l.y > Math.min(...numbers) - 2 * span && l.y < Math.max(...numbers) + 2 * span);
  const ends = [...numbers, ...near.map((l) => l.y)];
  const pad = (Math.max(...ends) - Math.min(...ends)) * 0.08 || 1;
  return (
    <div className="chart" role="img" aria-label={t("measured.chart", { name: s.name, count: values.length })}>
      <LineChart
        height={260}
        skipAnimation
        hideLegend
        margin={{ left: 8, right: 16, top: 14, bottom: 4 }}
        xAxis={[
          {
            data: values.map((v) => v.at),
            scaleType: "time",
            tickNumber: Math.min(6, values.length),
            valueFormatter: (d: Date, c) => (c.location === "tick" ? shortDate(d).replace(/^\w+,? /, "") : shortDate(d)),
          },
        ]}
        yAxis={[{ min: Math.min(...ends) - pad, max: Math.max(...ends) + pad, label: s.unit, width: 58 }]}
        series={[{ data: numbers, label: s.name, curve: "linear", color: "var(--ink)", showMark: values.length < 40, valueFormatter: (v) => `${v} ${s.unit}` }]}
        grid={{ horizontal: true }}
      >
        {near.map((l) => (
          <ChartsReferenceLine
            key={l.mark}
            y={l.y}
            lineStyle={{
              stroke: l.mark.startsWith("alarm") ? "var(--crimson)" : "var(--ochre)",
              strokeDasharray: l.mark.startsWith("alarm") ? undefined : "6 4",
              strokeWidth: 1.5,
            }}
            label={`${t(`limit.${l.mark}`)} ${l.y}`}
            labelAlign={l.mark.startsWith("alarm") ? "end" : "start"}
            labelStyle={{ fontSize: 11, fill: l.mark.startsWith("alarm") ? "var(--crimson)" : "var(--ochre)" }}
          />
        ))}
      </LineChart>
    </div>
  );
}
