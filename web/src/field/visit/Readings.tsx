import { Button, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import type { Judged, Level, Point, ReadingLine, VisitView } from "../../types";
import { time } from "../../ui/format";
import { LevelTag } from "../../ui/Level";
import { say } from "../../words/i18n";
import { useCore, useRecord } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

export function Readings({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const points = view.asset?.points ?? [];
  return (
    <VisitSection id="readings" title={t("visit.readings")} end={view.asset?.name}>
      {points.length === 0 && <p className="quiet small">{t("readings.none")}</p>}
      {points.map((p) => (
        <PointLine key={p.id} point={p} view={view} taken={view.readings.filter((r) => r.asset === view.order.asset && r.point === p.id)} />
      ))}
    </VisitSection>
  );
}

function PointLine({ point, view, taken }: { point: Point; view: VisitView; taken: ReadingLine[] }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const last = taken.findLast((r) => !r.struck);
  return (
    <div className="point">
      <div className="line">
        <span className="grow">
          {point.name}
          <Limits point={point} />
          {last && <Gauge point={point} value={last.value} />}
        </span>
        {last && <Value level={last.level} value={last.value} unit={last.unit} />}
        {last && !open && (
          <button type="button" className="link small" onClick={() => setOpen(true)}>
            {t("readings.again")}
          </button>
        )}
      </div>
      {(!last || open) && <Entry point={point} view={view} onSaved={() => setOpen(false)} />}
      {taken.map(
        (r) =>
          (r.struck || taken.length > 1 || open) && (
            <p key={r.entry} className="small">
              <span className={r.struck ? "struck" : "quiet"}>
                {time(r.at)} {r.value} {r.unit}
              </span>{" "}
              <StrikeOut view={view} entry={r.entry} at={r.at} kind="reading.taken" person={r.person} struck={r.struck} />
            </p>
          ),
      )}
    </div>
  );
}

/** Where the value is typed, and how it lies to the limits while it is. */
function Entry({ point, view, onSaved }: { point: Point; view: VisitView; onSaved: () => void }) {
  const { t } = useTranslation();
  const ready = useCore();
  const record = useRecord();
  const [text, setText] = useState("");
  const judged: Judged | undefined = ready && text.trim() ? core("judge", { point, text }) : undefined;
  const save = async (e: FormEvent) => {
    e.preventDefault();
    if (!judged?.value) return;
    if (await record("reading.taken", view.id, { asset: view.order.asset, point: point.id, value: judged.value, unit: point.unit })) {
      setText("");
      onSaved();
    }
  };
  return (
    <form className="point-entry" onSubmit={save}>
      <TextField
        label={t("readings.value", { point: point.name, unit: point.unit })}
        value={text}
        onChange={(e) => setText(e.target.value)}
        error={!!judged?.error}
        helperText={judged?.error ? say(judged.error) : undefined}
        slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off" } }}
      />
      {judged?.value && judged.level && (
        <span className="point-judged" role="status">
          <LevelTag level={judged.level} />
        </span>
      )}
      <Button type="submit" variant={judged?.value ? "contained" : "outlined"} disabled={!judged?.value}>
        {t("readings.save")}
      </Button>
    </form>
  );
}

function Value({ level, value, unit }: { level: Level; value: string; unit: string }) {
  return (
    <span className="end nowrap">
      <b>{value}</b> {unit}
      {level !== "ok" && (
        <span className="block">
          <LevelTag level={level} />
        </span>
      )}
    </span>
  );
}

function Limits({ point }: { point: Point }) {
  const { t } = useTranslation();
  const low = point.warnLow ?? point.alarmLow;
  const high = point.warnHigh ?? point.alarmHigh;
  if (!low && !high) return null;
  const key = low && high ? "readings.limits" : low ? "readings.above" : "readings.below";
  return <span className="tiny quiet block">{t(key, { low, high, unit: point.unit })}</span>;
}

/** The value between its limits. The words beside it say the same. */
function Gauge({ point, value }: { point: Point; value: string }) {
  const marks = [point.alarmLow, point.warnLow, point.warnHigh, point.alarmHigh].map((m) => (m === undefined ? undefined : Number(m)));
  const known = marks.filter((m) => m !== undefined);
  const sides = [marks[0] ?? marks[1], marks[2] ?? marks[3]];
  if (sides.includes(undefined)) return null; // with a limit on one side only there is no scale to show
  const least = Math.min(...known);
  const span = Math.max(...known) - least || 1;
  const from = least - span * 0.25;
  const at = (v: number) => Math.max(0, Math.min(100, ((v - from) / (span * 1.5)) * 100));
  return (
    <span className="gauge" aria-hidden="true">
      {marks.map(
        (m, i) => m !== undefined && <s key={["al", "wl", "wh", "ah"][i]} className={i === 0 || i === 3 ? "alarm" : "warn"} style={{ left: `${at(m)}%` }} />,
      )}
      <i style={{ left: `${at(Number(value))}%` }} />
    </span>
  );
}
