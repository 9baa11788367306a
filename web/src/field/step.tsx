/** Steps on visits: each is taken once, and can be taken back for a minute from wherever the person is by then. */
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { where } from "../device/record";
import type { Action, StepTaken } from "../types";
import { secondTap } from "../ui/secondTap";
import { useDevice, useRecord } from "./device";

const undoFor = 60_000;

/** What is tapped in the dock; tasks are started on their own. */
export type DockAction = Exclude<Action, "started_task">;

/** How near to the first a second tap is taken for the same, in pixels: a finger is no pen. */
const sameTap = 48;

interface Tap {
  at: number;
  x: number;
  y: number;
}

/** Swallows a second tap on the place of a step, by when it was tapped: a busy page may hear of it late, with something else in that place. */
function useSecondTaps(): () => void {
  const pressed = useRef<Tap>(undefined);
  const step = useRef<Tap>(undefined);
  useEffect(() => {
    const hear = (e: MouseEvent) => {
      const first = step.current;
      if (e.detail === 0) return; // by keyboard
      if (first && e.timeStamp - first.at < secondTap && Math.hypot(e.clientX - first.x, e.clientY - first.y) < sameTap) {
        e.preventDefault();
        e.stopPropagation();
        return;
      }
      pressed.current = { at: e.timeStamp, x: e.clientX, y: e.clientY };
    };
    addEventListener("click", hear, true);
    return () => removeEventListener("click", hear, true);
  }, []);
  return useCallback(() => {
    step.current = pressed.current;
  }, []);
}

/** A step that was just taken. */
interface Taken {
  visit: string;
  action: DockAction;
  entry?: string;
  /** the visit whose clock it ended */
  stopped?: string;
  /** where it was, in words */
  site?: string;
  /** it is being taken back */
  undoing?: boolean;
}

interface Steps {
  taken?: Taken;
  /** a step was tapped a moment ago: nothing else is, yet */
  resting: boolean;
  take: (visit: string, action: DockAction, body?: StepTaken, more?: { stopped?: string; site?: string }) => Promise<string | undefined>;
  undo: () => Promise<void>;
}

const Context = createContext<Steps | null>(null);

export function useSteps(): Steps {
  const steps = useContext(Context);
  if (!steps) throw new Error("no steps");
  return steps;
}

export function StepsProvider({ children }: { children: ReactNode }) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const [taken, setTaken] = useState<Taken>();
  const [tapped, setTapped] = useState<number>();
  const isStep = useSecondTaps();
  useEffect(() => {
    if (!tapped) return;
    const timer = setTimeout(() => setTapped(undefined), secondTap);
    return () => clearTimeout(timer);
  }, [tapped]);
  useEffect(() => {
    if (!taken?.entry) return;
    const timer = setTimeout(() => setTaken(undefined), undoFor);
    return () => clearTimeout(timer);
  }, [taken]);
  const take = useCallback<Steps["take"]>(
    async (visit, action, body = {}, more = {}) => {
      isStep();
      setTapped(performance.now());
      setTaken({ visit, action });
      const entry = await record(`visit.${action}`, visit, { ...body, where: where() });
      setTaken(entry ? { visit, action, entry, ...more } : undefined);
      return entry;
    },
    [record, isStep],
  );
  const undo = useCallback(async () => {
    if (!taken?.entry || taken.undoing) return;
    isStep();
    setTapped(performance.now());
    setTaken({ ...taken, undoing: true });
    const body = await db.body("visit", taken.visit);
    const step = body?.steps?.find((s) => s.entry === taken.entry);
    const struck = {
      entry: taken.entry,
      kind: `visit.${taken.action}`,
      person: me.id,
      reason: t("strike.tap"),
    };
    if (step) await record("entry.struck", taken.visit, { ...struck, at: step.at });
    setTaken(undefined); // once it is recorded: what looks undone is
  }, [taken, db, me, record, t, isStep]);
  const steps = useMemo(() => ({ taken, resting: tapped !== undefined, take, undo }), [taken, tapped, take, undo]);
  return <Context.Provider value={steps}>{children}</Context.Provider>;
}
