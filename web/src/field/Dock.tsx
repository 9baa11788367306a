/** The dock: the running clock and the one next step, under the thumb. */
import { Suspense, useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { core } from "../device/core";
import { followPosition, where } from "../device/record";
import type { Action, StepTaken } from "../types";
import { clock, isoDate, time } from "../ui/format";
import { screen } from "../ui/screen";
import { useCore, useNow, useRecord, useReplica } from "./device";
import { currentStop, isRunning, type Stop, useStop, useStops } from "./stops";

const ActionDrawer = screen(() => import("./ActionDrawer"));

const undoFor = 60_000;

export function Dock({ visit }: { visit?: string }) {
  return visit ? <VisitDock visit={visit} /> : <RouteDock />;
}

function VisitDock({ visit }: { visit: string }) {
  const now = useNow(1000);
  const stop = useStop(visit);
  return stop ? <StopDock key={stop.id} stop={stop} now={now} /> : null;
}

function RouteDock() {
  const { t } = useTranslation();
  const now = useNow(1000);
  const stops = useStops();
  if (!stops) return null;
  const stop = currentStop(stops, isoDate(now));
  if (!stop) {
    return (
      <div className="dock on-night">
        <div className="dock-clock">{t(stops.length > 0 ? "dock.done" : "dock.nothing")}</div>
      </div>
    );
  }
  return <StopDock key={stop.id} stop={stop} now={now} onRoute />;
}

function StopDock({ stop, now, onRoute }: { stop: Stop; now: number; onRoute?: boolean }) {
  const { t } = useTranslation();
  const ready = useCore();
  const record = useRecord();
  const navigate = useNavigate();
  const skew = useReplica()?.skew ?? 0;
  const [asking, setAsking] = useState<Action>();
  const [undo, setUndo] = useState<{ id: string; action: Action; at: number }>();
  useEffect(followPosition, []);
  const { stage, since, start } = stop.visit;

  const take = async (action: Action, body: StepTaken = {}) => {
    setAsking(undefined);
    const id = await record(`visit.${action}`, stop.id, { ...body, where: where() });
    if (id) setUndo({ id, action, at: Date.now() });
    if (id && onRoute && (action === "arrived" || action === "accepted")) navigate(`/field/visit/${stop.id}`);
  };
  const press = (action: Action) => (action === "finished" || action === "paused" || action === "declined" ? setAsking(action) : void take(action));
  const takeBack = async () => {
    const step = stop.visit.steps?.find((s) => s.entry === undo?.id);
    if (step)
      await record("entry.struck", stop.id, { entry: step.entry, at: step.at, kind: `visit.${step.action}`, person: step.person, reason: t("strike.tap") });
    setUndo(undefined);
  };

  const actions = useMemo(() => (ready ? core("steps", { stage }) : []), [ready, stage]);
  const running = isRunning(stop);
  const canUndo = undo && now - undo.at < undoFor;
  return (
    <section className="dock on-night" aria-label={stop.site?.name}>
      {canUndo && (
        <button type="button" className="dock-undo" onClick={takeBack}>
          {t("dock.undo", { action: t(`action.${undo.action}`) })}
        </button>
      )}
      <div className="dock-clock">
        <div className="tiny">
          {stage in stageTitles ? t(`stageTitle.${stage as keyof typeof stageTitles}`) : t(`stage.${stage}`)}
          {onRoute && ` · ${stop.site?.name}`}
        </div>
        <div className="dock-time" role="timer">
          {running ? clock((now + skew - Date.parse(since)) / 1000) : time(stage === "sent" || stage === "accepted" ? start : since)}
        </div>
      </div>
      <div className="dock-actions">
        {actions.toReversed().map((a, i) => (
          <button type="button" key={a} className={i === actions.length - 1 ? "next" : undefined} onClick={() => press(a)}>
            {t(`action.${a}`)}
          </button>
        ))}
      </div>
      {asking && (
        <Suspense fallback={null}>
          <ActionDrawer action={asking} visit={stop.id} onChoose={(body) => take(asking, body)} onClose={() => setAsking(undefined)} />
        </Suspense>
      )}
    </section>
  );
}

const stageTitles = { sent: 1, accepted: 1, travelling: 1, on_site: 1, paused: 1 };
