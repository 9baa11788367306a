/** Dragging visits and what waits between days: what it would come to is asked for the day it is held over. */
import { type DragEndEvent, type DragOverEvent, type DragStartEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { useState } from "react";
import { get } from "../../session/api";
import type { EntryDraft, FitFound, OrderLine, VisitMove, VisitPlan } from "../../types";
import { moment } from "../../ui/format";
import { graveOf, warningsOf } from "../board/stops";
import { usePlanCommands } from "../board/usePlanDraft";
import { keepLast, useQuestion } from "../commands";
import type { Chip } from "./rows";

/** What is taken hold of: a visit, or work that waits. */
export interface Held {
  visit?: Chip;
  order?: OrderLine;
}

/** Where it is held: whose day, or with "" its own person's. */
export interface Over {
  person: string;
  date: string;
}

export const cellId = (over: Over) => `${over.person}|${over.date}`;

/** Where a cell is, by its id. */
export const cellOf = (id: string | number | undefined): Over | undefined => {
  const [person, date] = String(id ?? "").split("|");
  return date ? { person, date } : undefined;
};

const askedOf = (held: Held | undefined, over: Over | undefined, drafting: boolean) => ({
  visit: held?.visit?.id,
  order: held?.order?.id,
  person: over?.person || held?.visit?.person || "",
  date: over?.date ?? "",
  draft: drafting || undefined,
});

export function useWeekDrag() {
  const commands = usePlanCommands();
  const [held, setHeld] = useState<Held>();
  const [over, setOver] = useState<Over>();
  const [doubt, setDoubt] = useState<{ held: Held; person: string; found: FitFound }>();
  const [none, setNone] = useState(false);
  const asked = askedOf(held, over, commands.drafting);
  const fit = useQuestion("/api/office/fit", asked, { ...keepLast, enabled: held !== undefined && asked.person !== "" && asked.date !== "" }).data;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));

  const record = async (h: Held, person: string, found: FitFound, why: string) => {
    const warned = warningsOf(found.fit?.why ?? []);
    const body = {
      technician: person,
      start: moment(found.start ?? 0),
      minutes: found.minutes,
      against: warned.length > 0 ? { warned, why: why.trim() || undefined } : undefined,
    };
    const order = h.order?.id;
    const entry: EntryDraft = order
      ? { kind: "visit.planned", subject: { type: "visit", id: commands.idOf(`visit of ${order}`) }, body: { ...body, order } satisfies VisitPlan }
      : { kind: "visit.moved", subject: { type: "visit", id: h.visit?.id ?? "" }, body: body satisfies VisitMove };
    await commands.mutateAsync([entry]);
    setDoubt(undefined);
  };

  const drop = async (h: Held, to: Over) => {
    const person = to.person || h.visit?.person || "";
    if (!person) return; // work that waits needs somebody
    if (h.visit && person === h.visit.person && h.visit.start.startsWith(to.date)) return;
    const found = await get("/api/office/fit", askedOf(h, to, commands.drafting));
    setNone(!found.fit);
    if (!found.fit) return;
    if (graveOf(found.fit.why).length > 0) setDoubt({ held: h, person, found });
    else await record(h, person, found, "");
  };

  return {
    held,
    over,
    fit,
    doubt,
    none,
    pending: commands.isPending,
    error: commands.error,
    insist: (why: string) => (doubt ? record(doubt.held, doubt.person, doubt.found, why) : Promise.resolve()),
    dismiss: () => setDoubt(undefined),
    sensors,
    /** Takes hold by the keyboard, and moves what is held; undefined lets it go. */
    hold: (h: Held | undefined, at?: Over) => {
      setHeld(h);
      setOver(at);
    },
    put: () => {
      if (held && over) drop(held, over).catch(() => {}); // said below
      setHeld(undefined);
    },
    onDragStart: (e: DragStartEvent) => {
      setHeld(e.active.data.current as Held);
      setOver(undefined);
    },
    onDragOver: (e: DragOverEvent) => setOver(cellOf(e.over?.id)),
    onDragCancel: () => setHeld(undefined),
    onDragEnd: (e: DragEndEvent) => {
      const to = cellOf(e.over?.id);
      const h = e.active.data.current as Held;
      setHeld(undefined);
      if (to) drop(h, to).catch(() => {}); // said below
    },
  };
}
