/** Steps on visits: each is taken once, and can be taken back for a minute from wherever the person is by then. */
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { where } from "../device/record";
import type { Action, StepTaken } from "../types";
import { secondTap } from "../ui/secondTap";
import { useDevice, useRecord } from "./device";

const undoFor = 60_000;

/** What is tapped in the dock; tasks are started on their own. */
export type DockAction = Exclude<Action, "started_task">;

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
      setTapped(performance.now());
      setTaken({ visit, action });
      const entry = await record(`visit.${action}`, visit, { ...body, where: where() });
      setTaken(entry ? { visit, action, entry, ...more } : undefined);
      return entry;
    },
    [record],
  );
  const undo = useCallback(async () => {
    if (!taken?.entry || taken.undoing) return;
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
  }, [taken, db, me, record, t]);
  const steps = useMemo(() => ({ taken, resting: tapped !== undefined, take, undo }), [taken, tapped, take, undo]);
  return <Context.Provider value={steps}>{children}</Context.Provider>;
}
