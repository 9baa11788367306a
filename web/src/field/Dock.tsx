/** The dock: the running clock and the one next step, under the thumb. */
import { Suspense, useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { core } from "../device/core";
import type { DeviceDB } from "../device/db";
import { followPosition, where } from "../device/record";
import type { Action, Order, Person, StepTaken, Struck, Timecard, Visit } from "../types";
import { clock, isoDate, time } from "../ui/format";
import { screen } from "../ui/screen";
import { useCore, useDevice, useNow, useRecord, useReplica } from "./device";
import { useOrder } from "./route/legs";
import { currentStop, isRunning, isUnsigned, type Stop, useStop, useStops } from "./stops";

const ActionDrawer = screen(() => import("./ActionDrawer"));
const TellCustomer = screen(() => import("./visit/TellCustomer"));

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
  const order = useOrder(isoDate(now));
  if (!stops) return null;
  const stop = currentStop(stops, isoDate(now), order);
  if (!stop) {
    return (
      <div className="dock on-night">
        <div className="dock-clock">{t(stops.length > 0 ? "dock.done" : "dock.nothing")}</div>
      </div>
    );
  }
  return <StopDock key={stop.id} stop={stop} now={now} onRoute />;
}

/** Whether the day's first drive begins at home: nothing was stamped yet, and the day did not begin at the yard. */
async function fromHome(db: DeviceDB): Promise<boolean> {
  const person = await db.body<Person>("person", db.person);
  const card = await db.body<Timecard>("timecard", `${db.person}+${isoDate(Date.now())}`);
  const stamps = card?.stamps?.filter((s) => !s.struck) ?? [];
  const start = stamps.find((s) => s.kind === "day_start");
  return stamps.every((s) => s.kind === "day_start") && (start ? !!start.home : !!person?.home);
}

function StopDock({ stop, now, onRoute }: { stop: Stop; now: number; onRoute?: boolean }) {
  const { t } = useTranslation();
  const ready = useCore();
  const { db, me } = useDevice();
  const record = useRecord();
  const navigate = useNavigate();
  const skew = useReplica()?.skew ?? 0;
  const [asking, setAsking] = useState<Action>();
  const [undo, setUndo] = useState<{ at: number; action: string; body: Struck }>();
  const [telling, setTelling] = useState(false);
  useEffect(followPosition, []);
  const { stage, since, start } = stop.visit;
  const dock = useMemo(
    () => (ready ? core("dock", { visit: stop.visit, order: stop.order ?? ({ tasks: [] } as unknown as Order), person: me.id }) : undefined),
    [ready, stop, me],
  );

  const remember = (entry: string | undefined, kind: string, action: string) => {
    const order = kind === "visit.finished" ? stop.visit.order : undefined;
    const body = { entry: entry ?? "", at: new Date(Date.now() + skew).toISOString(), kind, person: me.id, order, reason: t("strike.tap") };
    if (entry) setUndo({ at: Date.now(), action, body });
  };
  const take = async (action: Action, body: StepTaken = {}) => {
    setAsking(undefined);
    const more: StepTaken = { ...body, where: where() };
    if (action === "set_off") more.home = (await fromHome(db)) || undefined;
    if (action === "arrived" || action === "resumed") more.task = dock?.task;
    if (action === "finished") for (const helper of dock?.clocking ?? []) await record("crew.clocked", stop.id, { helper, clock: "stop" });
    const id = await record(`visit.${action}`, stop.id, more);
    remember(id, `visit.${action}`, t(`action.${action}`));
    setTelling(id !== undefined && action === "set_off");
    if (id && onRoute && (action === "arrived" || action === "accepted")) navigate(`/field/visit/${stop.id}`);
    // Whoever signs is most likely still there.
    const ended = action === "finished" && id && (await db.body<Visit>("visit", stop.id));
    if (ended && isUnsigned(ended)) navigate(`/field/visit/${stop.id}?sign`, { replace: !onRoute });
  };
  const press = (action: Action) => (action === "finished" || action === "paused" || action === "declined" ? setAsking(action) : void take(action));
  const help = async (on: boolean) => {
    await record("crew.clocked", stop.id, { helper: me.id, clock: on ? "work" : "stop" });
  };
  const takeBack = async () => {
    const step = stop.visit.steps?.find((s) => s.entry === undo?.body.entry);
    if (undo && step) await record("entry.struck", stop.id, { ...undo.body, at: step.at });
    setUndo(undefined);
    setTelling(false);
  };

  const actions = dock?.actions ?? [];
  const left = onRoute || stop.part !== "own" ? undefined : leftToDo(stop.visit);
  const running = isRunning(stop);
  const task = stop.order?.tasks?.find((x) => x.id === dock?.running)?.name;
  const canUndo = undo && now - undo.at < undoFor;
  const title = dock?.helping
    ? t(dock.on ? "dock.helpingOn" : "dock.helping")
    : stage in stageTitles
      ? t(`stageTitle.${stage as keyof typeof stageTitles}`)
      : t(`stage.${stage}`);
  return (
    <section className="dock on-night" aria-label={stop.site?.name}>
      {(canUndo || telling) && (
        <div className="dock-over">
          {telling && (
            <Suspense fallback={null}>
              <TellCustomer visit={stop.id} template="on_the_way" strip onDone={() => setTelling(false)} />
            </Suspense>
          )}
          {canUndo && (
            <button type="button" className="dock-undo" onClick={takeBack}>
              {t("dock.undo", { action: undo.action })}
            </button>
          )}
        </div>
      )}
      <div className="dock-clock">
        <div className="tiny">
          {title}
          {task && ` · ${task}`}
          {onRoute && ` · ${stop.site?.name}`}
        </div>
        <div className="dock-time" role="timer">
          {running ? clock((now + skew - Date.parse(since)) / 1000) : time(stage === "sent" || stage === "accepted" ? start : since)}
        </div>
      </div>
      <div className="dock-actions">
        {dock?.helping && (
          <button type="button" className="next" onClick={() => help(!dock.on)}>
            {t(dock.on ? "crew.off" : "crew.on")}
          </button>
        )}
        {left && (
          <button type="button" className="next" onClick={() => navigate(`/field/visit/${stop.id}?${left}`, { replace: true })}>
            {t(left === "sign" ? "sign.open" : "report.make")}
          </button>
        )}
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

/** What comes after the end: a signature, then the report. */
function leftToDo(v: Visit): "sign" | "report" | undefined {
  if (v.stage !== "finished") return undefined;
  if (isUnsigned(v)) return "sign";
  return v.reports?.some((r) => !r.struck) ? undefined : "report";
}

const stageTitles = { sent: 1, accepted: 1, travelling: 1, on_site: 1, paused: 1 };
