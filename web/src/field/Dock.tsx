/** The dock: what the clock does, and the one next step, under the thumb. */
import { Suspense, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import type { DeviceDB } from "../device/db";
import { followPosition } from "../device/record";
import type { Dock as Can, Standing, StepTaken, Visit } from "../types";
import { settled } from "../ui/back";
import { clock, isoDate, time, timeOrDay } from "../ui/format";
import { Mark } from "../ui/Glyph";
import { screen } from "../ui/screen";
import { tasksOf } from "../ui/tasks";
import { useDock, useSiteName } from "./clocks";
import { useDevice, useNow, useRecord, useReplica, useSettings, useWhole } from "./device";
import { useDrive, useOrder } from "./route/legs";
import { type DockAction, useSteps } from "./step";
import { currentStop, isUnsigned, type Stop, useStop, useStops } from "./stops";

const ActionDrawer = screen(() => import("./ActionDrawer"));
const TellCustomer = screen(() => import("./visit/TellCustomer"));

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
  const whole = useWhole();
  const order = useOrder(isoDate(now));
  if (!stops || !whole) return null;
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
  const person = await db.body("person", db.person);
  const card = await db.body("timecard", `${db.person}+${isoDate(Date.now())}`);
  const stamps = card?.stamps?.filter((s) => !s.struck) ?? [];
  const start = stamps.find((s) => s.kind === "day_start");
  return stamps.every((s) => s.kind === "day_start") && (start ? !!start.home : !!person?.home);
}

function StopDock({ stop, now, onRoute }: { stop: Stop; now: number; onRoute?: boolean }) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const navigate = useNavigate();
  const { take } = useSteps();
  const [asking, setAsking] = useState<DockAction>();
  const [telling, setTelling] = useState(false);
  useEffect(followPosition, []);
  const dock = useDock(stop);
  const drive = useDrive(stop);

  const step = async (action: DockAction, body: StepTaken = {}) => {
    setAsking(undefined);
    const more: StepTaken = { ...body };
    if (action === "set_off") {
      more.home = (await fromHome(db)) || undefined;
      more.drive = drive;
    }
    if (action === "arrived" || action === "resumed") more.task = dock?.task;
    if (action === "finished") for (const helper of dock?.clocking ?? []) await record("crew.clocked", stop.id, { helper, clock: "stop" });
    const id = await take(stop.id, action, more, { stopped: dock?.stops, site: stop.site?.name });
    setTelling(id !== undefined && action === "set_off");
    await settled(); // the drawer that asked is closed
    if (id && onRoute && (action === "arrived" || action === "accepted")) navigate(`/field/visit/${stop.id}`);
    // Whoever signs is most likely still there.
    const ended = action === "finished" && id && (await db.body("visit", stop.id));
    if (ended && isUnsigned(ended)) navigate(`/field/visit/${stop.id}?sign`, { replace: !onRoute });
  };
  const help = async (on: boolean) => {
    await record("crew.clocked", stop.id, { helper: me.id, clock: on ? "work" : "stop" });
  };
  const left = onRoute || stop.part !== "own" ? undefined : leftToDo(stop.visit);
  return (
    <section className="dock on-night" aria-label={stop.site?.name}>
      <div className="dock-over">
        {telling && (
          <Suspense fallback={null}>
            <TellCustomer visit={stop.id} template="on_the_way" strip onDone={() => setTelling(false)} />
          </Suspense>
        )}
        <TakeBack visit={stop.id} onTakenBack={() => setTelling(false)} />
      </div>
      <Clock stop={stop} dock={dock} now={now} onRoute={onRoute} />
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
        <Actions stop={stop} dock={dock} onPress={(a) => (a === "finished" || a === "paused" || a === "declined" ? setAsking(a) : void step(a))} />
      </div>
      {asking && (
        <Suspense fallback={null}>
          <ActionDrawer action={asking} visit={stop.id} onChoose={(body) => step(asking, body)} onClose={() => setAsking(undefined)} />
        </Suspense>
      )}
    </section>
  );
}

/** The next steps, the first of them nearest to the thumb. For a moment after a step it is that step, as taken: a second tap takes no other. */
function Actions({ stop, dock, onPress }: { stop: Stop; dock?: Can; onPress: (a: DockAction) => void }) {
  const { t } = useTranslation();
  const { taken, resting } = useSteps();
  if (resting && taken && !taken.undoing) {
    return (
      <button type="button" className="next taken" aria-disabled="true">
        <Mark kind="good" /> {t(`action.${taken.action}`)}
      </button>
    );
  }
  if (resting) return null;
  const actions = dock?.actions.filter((a) => a !== "started_task") ?? [];
  const word = (a: DockAction) => t(a === "arrived" && dock?.here && stop.visit.stage === "accepted" ? "dock.beginHere" : `action.${a}`);
  return actions.toReversed().map((a, i) => (
    <button type="button" key={a} className={i === actions.length - 1 ? "next" : undefined} onClick={() => onPress(a)}>
      {word(a)}
    </button>
  ));
}

/** What the clock does: running, or since when it stands still and why. */
function Clock({ stop, dock, now, onRoute }: { stop: Stop; dock?: Can; now: number; onRoute?: boolean }) {
  const { t } = useTranslation();
  const skew = useReplica()?.skew ?? 0;
  const standing = dock?.standing ?? stop.standing;
  const why = useWhy(standing);
  const { stage, since } = standing;
  const ticks = standing.on && (stop.part === "own" || dock?.on);
  const task = tasksOf(stop.order).find((x) => x.id === dock?.running)?.name;
  const title = dock?.helping
    ? t(dock.on ? "dock.helpingOn" : "dock.helping")
    : stage in stageTitles
      ? t(`stageTitle.${stage as keyof typeof stageTitles}`)
      : t(`stage.${stage}`);
  return (
    <div className="dock-clock">
      <div className="tiny">{[title, why, task, onRoute && stop.site?.name].filter(Boolean).join(" · ")}</div>
      <div className="dock-time" role="timer">
        {ticks ? clock((now + skew - Date.parse(since)) / 1000) : stage === "sent" || stage === "accepted" ? time(stop.visit.start) : timeOrDay(since)}
      </div>
    </div>
  );
}

/** Why the clock of a visit that is begun does not count as work: the reason of the pause, or what it went to. */
export function useWhy(s: Standing): string | undefined {
  const { t } = useTranslation();
  const settings = useSettings();
  const site = useSiteName(s.for?.visit);
  if (!s.left) return settings?.time.pauses?.find((p) => p.id === s.reason)?.text ?? s.reason;
  if (!s.for) return t("dock.stoppedClock");
  if (s.for.visit) return site && t("dock.leftFor", { site });
  return settings?.time.indirect?.find((c) => c.id === s.for?.code)?.text ?? t(`clock.${s.for.kind}`);
}

/** The way back from the last step, for a while; with it what else the step ended. */
function TakeBack({ visit, onTakenBack }: { visit: string; onTakenBack: () => void }) {
  const { t } = useTranslation();
  const { taken, undo } = useSteps();
  const stopped = useSiteName(taken?.stopped);
  if (!taken?.entry) return null;
  const action = t(`action.${taken.action}`);
  return (
    <>
      {stopped && (
        <span className="dock-note" role="status">
          {t("dock.stopped", { site: stopped })}
        </span>
      )}
      <button
        type="button"
        className="dock-undo"
        onClick={() => {
          onTakenBack();
          void undo();
        }}
      >
        {t("dock.undo", { action: taken.visit === visit ? action : `${action} · ${taken.site}` })}
      </button>
    </>
  );
}

/** What comes after the end: a signature, then the report. */
function leftToDo(v: Visit): "sign" | "report" | undefined {
  if (v.stage !== "finished") return undefined;
  if (isUnsigned(v)) return "sign";
  return v.reports?.some((r) => !r.struck) ? undefined : "report";
}

const stageTitles = { sent: 1, accepted: 1, travelling: 1, on_site: 1, paused: 1 };
