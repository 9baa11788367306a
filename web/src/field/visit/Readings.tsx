import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useBegun } from "../../draft/draft";
import type { DerivedValue, Machine, MeasuredPoint, ReadingLine, VisitView } from "../../types";
import { signed } from "../../ui/decimal";
import { time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LevelTag } from "../../ui/Level";
import { Trend } from "../../ui/Trend";
import { ReadingEntry } from "./ReadingEntry";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";
import { WhatNext } from "./WhatNext";

/** What is measured, machine by machine, with what was measured before and what follows from it. */
export function Readings({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const machines = view.machines.filter((m) => m.points.length > 0);
  return (
    <VisitSection id="readings" title={t("visit.readings")} end={machines.length === 1 && machines[0].asset.name}>
      {machines.length === 0 && <p className="quiet small">{t("readings.none")}</p>}
      {machines.map((m) => (
        <div key={m.id}>
          {machines.length > 1 && <h3 className="small strong">{m.asset.name}</h3>}
          {m.points.map((p) => (
            <PointLine key={p.id} machine={m} point={p} view={view} taken={view.readings.filter((r) => r.asset === m.id && r.point === p.id)} />
          ))}
          {m.derived.map((d) => (
            <DerivedLine key={d.id} value={d} />
          ))}
        </div>
      ))}
    </VisitSection>
  );
}

interface Props {
  machine: Machine;
  point: MeasuredPoint;
  view: VisitView;
  taken: ReadingLine[];
}

export function PointLine({ machine, point, view, taken }: Props) {
  const { t } = useTranslation();
  const begun = useBegun(`reading ${view.id} ${machine.id} ${point.id}`);
  const [opened, setOpen] = useState(false);
  const open = opened || begun;
  const last = taken.findLast((r) => !r.struck);
  return (
    <div className="point">
      <div className="line">
        <span className="grow">
          {point.name}
          <Limits point={point} />
        </span>
        {(point.before.length > 0 || last) && (
          <Trend values={[...point.before.map((b) => b.value), ...(last ? [last.shown] : [])]} limits={point} now={!!last} />
        )}
        {last && (
          <span className="end nowrap">
            <b>{last.shown}</b> {last.shownUnit}
            {last.unit !== last.shownUnit && (
              <span className="tiny quiet block">
                {last.value} {last.unit}
              </span>
            )}
            {last.change && (
              <span className="tiny quiet block">{t(point.counter ? "readings.moved" : "readings.changed", { change: signed(last.change) })}</span>
            )}
          </span>
        )}
        {last && !open && (
          <button type="button" className="link small" onClick={() => setOpen(true)}>
            {t("readings.again")}
          </button>
        )}
      </div>
      {last && last.level !== "ok" && <LevelTag level={last.level} />}
      {last?.doubt && <Tag kind="warn">{t(`doubt.${last.doubt}`)}</Tag>}
      {(!last || open) && <ReadingEntry machine={machine} point={point} view={view} onSaved={() => setOpen(false)} />}
      {last && last.level !== "ok" && <OutOfLimits machine={machine} point={point} view={view} last={last} />}
      {taken.map(
        (r) =>
          (r.struck || taken.length > 1 || open) && (
            <p key={r.entry} className="small">
              <span className={r.struck ? "struck" : "quiet"}>
                {time(r.at)} {r.value} {r.unit}
              </span>{" "}
              <StrikeOut view={view} line={r} kind="reading.taken" />
            </p>
          ),
      )}
    </div>
  );
}

/** What to do about a value that is out of its limits: one tap each. */
function OutOfLimits({ machine, point, view, last }: { machine: Machine; point: MeasuredPoint; view: VisitView; last: ReadingLine }) {
  const { t } = useTranslation();
  const text = t("readings.outText", {
    point: point.name,
    machine: machine.asset.name,
    value: last.shown,
    unit: last.shownUnit,
    level: t(`level.${last.level}`),
  });
  return <WhatNext view={view} text={text} asset={machine.id} about={`reading ${machine.id} ${point.id}`} />;
}

function DerivedLine({ value: d }: { value: DerivedValue }) {
  const { t } = useTranslation();
  return (
    <div className="point">
      <div className="line">
        <span className="grow">
          {d.name}
          <span className="tiny quiet block">{t("readings.derived")}</span>
        </span>
        <span className="end nowrap">
          {d.value === undefined ? (
            <span className="quiet small">{t(d.problem ? "readings.notDerivable" : "sheet.notYet")}</span>
          ) : (
            <>
              <b>{d.value}</b> {d.unit}
            </>
          )}
        </span>
      </div>
      {d.value !== undefined && d.level !== "ok" && <LevelTag level={d.level} />}
    </div>
  );
}

function Limits({ point }: { point: MeasuredPoint }) {
  const { t } = useTranslation();
  const low = point.warnLow ?? point.alarmLow;
  const high = point.warnHigh ?? point.alarmHigh;
  const last = point.before.at(-1);
  const key = low && high ? "readings.limits" : low ? "readings.above" : "readings.below";
  return (
    <span className="tiny quiet block">
      {(low || high) && t(key, { low, high, unit: point.unit })}
      {last && `${low || high ? " · " : ""}${t("readings.last", { value: last.value, unit: point.unit })}`}
    </span>
  );
}
