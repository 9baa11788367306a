import { useState } from "react";
import type { Board, EntryDraft, PlanFit, VisitMove, VisitPlan } from "../../types";
import { moment } from "../../ui/format";
import { minute, momentAt, type Scale } from "./scale";
import { graveOf, visitOn, wantOf, warningsOf } from "./stops";
import { type Aim, isThing, withOne } from "./useAim";
import { usePlanCommands } from "./usePlanDraft";

/** As what a lane's goes along, and who or what does so now. */
const alongAs = (board: Board, lane: string) => (isThing(board, lane) ? "things" : "helpers");
const alongNow = (board: Board, { id, along = "" }: Aim) => (isThing(board, along) ? wantOf(board, id)?.things : visitOn(board, id)?.visit.helpers);

/** What was aimed at, with the warnings that somebody has to answer for first. */
export interface Doubt {
  aim: Aim;
  fit: PlanFit;
}

/** Puts what is aimed at where it is aimed. What is planned against a warning is asked for a reason, and done all the same. */
export function usePlacing(board: Board, scale: Scale, fitOf: (aim: Aim) => PlanFit | undefined, onPlaced: (id: string) => void) {
  const commands = usePlanCommands();
  const [doubt, setDoubt] = useState<Doubt>();
  const [gone, setGone] = useState(false);

  const record = async (aim: Aim, fit: PlanFit | undefined, why: string) => {
    const warned = warningsOf(fit?.why ?? []);
    const body = {
      technician: aim.lane,
      start: moment(momentAt(scale, aim.begin)),
      minutes: Math.round(aim.length / minute),
      against: warned.length > 0 ? { warned, why: why.trim() || undefined } : undefined,
    };
    const goes = aim.along && { [alongAs(board, aim.along)]: withOne(alongNow(board, aim), aim.along) };
    const waits = board.unplaced.find((o) => o.id === aim.id);
    const id = waits ? commands.idOf(`visit of ${aim.id}`) : aim.id;
    const subject = { type: "visit", id };
    const plan: EntryDraft = waits
      ? { kind: "visit.planned", subject, body: { ...body, order: aim.id, things: waits.things } satisfies VisitPlan }
      : { kind: "visit.moved", subject, body: { ...body, ...goes } satisfies VisitMove };
    await commands.mutateAsync([plan]);
    setDoubt(undefined);
    onPlaced(id);
  };

  return {
    doubt,
    gone,
    pending: commands.isPending,
    error: commands.error,
    dismiss: () => setDoubt(undefined),
    /** Places it, or asks why first. What waited and was placed by somebody else meanwhile is said to be. */
    place: (aim: Aim) => {
      const on = visitOn(board, aim.id);
      const there = on !== undefined || board.unplaced.some((o) => o.id === aim.id);
      setGone(!there);
      if (!there) return;
      const goes = !aim.along || alongNow(board, aim)?.includes(aim.along);
      if (goes && on && on.person.id === aim.lane && Date.parse(on.visit.start) === momentAt(scale, aim.begin) && on.visit.minutes * minute === aim.length)
        return;
      const fit = fitOf(aim);
      if (fit && graveOf(fit.why).length > 0) setDoubt({ aim, fit });
      else record(aim, fit, "").catch(() => {}); // said below
    },
    /** Places it against its warnings. */
    insist: (why: string) => (doubt ? record(doubt.aim, doubt.fit, why) : Promise.resolve()),
  };
}
