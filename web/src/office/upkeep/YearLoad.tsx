import { MenuItem, TextField } from "@mui/material";
import { BarChart } from "@mui/x-charts/BarChart";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { LoadWeek } from "../../types";
import { dayText, duration } from "../../ui/format";
import { Answer, useQuestion } from "../queries";
import css from "./Upkeep.module.css";

/** What the coming year brings by week, against the hours of those who can do it. */
export function YearLoad() {
  const { t } = useTranslation();
  const [skill, setSkill] = useState("");
  return (
    <Answer query={useQuestion("/api/office/upkeep/load", {})}>
      {({ skills, weeks }) => (
        <>
          <p className={`small quiet ${css.lines}`}>{t("upkeep.load.hint")}</p>
          <TextField
            select
            fullWidth={false}
            size="small"
            label={t("upkeep.load.skill")}
            value={skill}
            onChange={(e) => setSkill(e.target.value)}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            sx={{ minWidth: 200 }}
          >
            <MenuItem value="">{t("upkeep.load.all")}</MenuItem>
            {skills.map((s) => (
              <MenuItem key={s.id} value={s.id}>
                {s.text}
              </MenuItem>
            ))}
          </TextField>
          <Bars weeks={weeks} skill={skill} />
          <Table weeks={weeks} skill={skill} />
        </>
      )}
    </Answer>
  );
}

const hours = (minutes = 0) => Math.round(minutes / 6) / 10;

function Bars({ weeks, skill }: { weeks: LoadWeek[]; skill: string }) {
  const { t } = useTranslation();
  const due = { data: weeks.map((w) => hours(w.due[skill])), label: t("upkeep.load.due"), color: "var(--sea)", valueFormatter: (v: number | null) => `${v} h` };
  const have = { ...due, data: weeks.map((w) => hours(w.hours[skill])), label: t("upkeep.load.hours"), color: "var(--rule)" };
  // Beside hours that are far more, what is due would be too low to see: the table says how much of them it is.
  const near = Math.max(...due.data) * 5 > Math.max(...have.data);
  return (
    <div className={css.chart} role="img" aria-label={t("upkeep.load.chart")}>
      <BarChart
        height={240}
        skipAnimation
        margin={{ left: 8, right: 8, top: 8, bottom: 4 }}
        xAxis={[
          {
            data: weeks.map((w) => w.monday),
            scaleType: "band",
            tickInterval: (_, i) => i % 4 === 0,
            valueFormatter: (d: string) => dayText(d).replace(/^\w+,? | \d{4}$/g, ""),
          },
        ]}
        yAxis={[{ width: 44, valueFormatter: (v: number) => `${v} h` }]}
        series={near ? [due, have] : [due]}
        grid={{ horizontal: true }}
      />
    </div>
  );
}

const share = (part: number) => `${(100 * part).toLocaleString("en-GB", { maximumFractionDigits: part < 0.1 ? 1 : 0 })} %`;

function Table({ weeks, skill }: { weeks: LoadWeek[]; skill: string }) {
  const { t } = useTranslation();
  const shown = weeks.filter((w) => w.due[skill]);
  if (shown.length === 0) return <p className="quiet">{t("upkeep.noDue")}</p>;
  return (
    <table className="table">
      <thead>
        <tr>
          <th>{t("upkeep.load.week")}</th>
          <th>{t("upkeep.load.due")}</th>
          <th>{t("upkeep.load.hours")}</th>
          <th>{t("upkeep.load.share")}</th>
        </tr>
      </thead>
      <tbody>
        {shown.map((w) => {
          const [due, have] = [w.due[skill] ?? 0, w.hours[skill] ?? 0];
          return (
            <tr key={w.monday}>
              <td>{dayText(w.monday)}</td>
              <td>{duration(due * 60)}</td>
              <td>{duration(have * 60)}</td>
              <td>{have > 0 ? share(due / have) : t("upkeep.load.none")}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
