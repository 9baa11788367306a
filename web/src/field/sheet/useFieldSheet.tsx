/** A sheet of a visit on the phone: what it comes to, and how answers are recorded. */

import { useCallback, useMemo } from "react";
import { CoreError, core } from "../../device/core";
import type { DeviceDB } from "../../device/db";
import { useLive } from "../../device/live";
import { newId } from "../../device/record";
import { at, nest } from "../../records";
import { keyOf, type SheetSource } from "../../sheet/source";
import type { Answer, Around, CoreFill, Question, Section, Sheet, SheetItem, SheetProgress, Visit, VisitView } from "../../types";
import { say } from "../../words/i18n";
import { useDevice, useRecord, useSettings } from "../device";
import { PaperLink } from "../visit/Papers";
import { PhotoStrip } from "../visit/PhotoStrip";
import { StrikeOut } from "../visit/StrikeOut";
import { SheetReading } from "./SheetReading";

interface Held {
  sheet: Sheet;
  state: SheetProgress;
  around: Around;
  visit: Visit;
}

/** What a fill needs of a visit: what was recorded for the sheet, and the readings. */
const part = (visit: Visit, ref: string): Visit => ({
  order: visit.order,
  technician: visit.technician,
  start: visit.start,
  minutes: visit.minutes,
  stage: visit.stage,
  since: visit.since,
  readings: visit.readings,
  answers: visit.answers?.[ref] && { [ref]: told(visit.answers[ref]) },
  items: visit.items?.[ref] && { [ref]: visit.items[ref] },
  sheetsBegun: visit.sheetsBegun?.[ref] ? { [ref]: visit.sheetsBegun[ref] } : undefined,
  files: visit.files?.filter((f) => f.about.sheet === ref),
});

/** What an answer says, without who gave it and when: with hundreds of them it is what takes the time. */
const told = (answers: Record<string, Answer>) =>
  Object.fromEntries(Object.entries(answers).map(([key, { value, note, known }]) => [key, { value, note, known } as Answer]));

/** What the core was last told of a sheet that is open: after that it is told only which answers changed. */
const lastAsked = new Map<string, { as: number; answers: Record<string, Answer>; rest: string }>();
let asked = 0;

/** What a sheet comes to now. */
function fill(sheet: Sheet, ref: string, visit: Visit, around: Around, id: string): SheetProgress | undefined {
  const answers = visit.answers?.[ref] ?? {};
  const rest = JSON.stringify([{ ...visit, answers: undefined }, around]);
  const last = lastAsked.get(`${id} ${ref}`);
  const as = ++asked;
  let state: SheetProgress | undefined;
  if (last?.rest === rest) {
    const changed = Object.fromEntries(Object.entries(answers).filter(([key, a]) => JSON.stringify(a) !== JSON.stringify(last.answers[key])));
    state = core("fill", { ref, as, since: last.as, changed } as CoreFill).state;
  }
  state ??= core("fill", { ref, as, sheet, visit, around }).state;
  lastAsked.set(`${id} ${ref}`, { as, answers, rest });
  return state;
}

async function around(db: DeviceDB, view: VisitView): Promise<Around> {
  const assets = (await db.all("asset")).filter((a) => a.body.site === view.order.site);
  const told = (await db.body("measured", view.order.asset))?.told ?? [];
  return {
    order: view.order,
    customer: view.customer,
    site: view.site,
    asset: view.asset,
    assets: Object.fromEntries(assets.map((a) => [a.id, a.body])),
    told,
  };
}

/** A signature with the digest of the answers that it stands for, as they are recorded by then. */
async function standingFor(db: DeviceDB, view: VisitView, ref: string, drawn: string): Promise<string> {
  const visit = (await db.body("visit", view.id)) ?? view.visit;
  const now = await load(db, { ...view, visit }, ref);
  return JSON.stringify({ ...JSON.parse(drawn), digest: now?.state.digest });
}

async function load(db: DeviceDB, view: VisitView, ref: string): Promise<Held | null> {
  const sheet = await db.body("sheet", ref);
  if (!sheet) return null;
  const round = await around(db, view);
  const visit = part(view.visit, ref);
  const state = fill(sheet, ref, visit, round, view.id);
  return state ? { sheet, state, around: round, visit } : null;
}

/** undefined while it is looked for, null when this device does not have the sheet. */
export function useFieldSheet(view: VisitView, ref: string): SheetSource | null | undefined {
  const { db, tell } = useDevice();
  const settings = useSettings();
  const record = useRecord();
  const held = useLive(db, (db) => load(db, view, ref), [view, ref]);
  /** What was known when the first answer is given becomes part of the record. */
  const begin = useCallback(
    async (h: Held) => {
      const now = (await db.body("visit", view.id)) ?? view.visit;
      if (now.sheetsBegun?.[ref]) return true;
      const body = core("begin", { ref, as: 0, sheet: h.sheet, visit: h.visit, around: h.around }).begin;
      return !!body && !!(await record("sheet.begun", view.id, body));
    },
    [db, record, ref, view],
  );
  const answer = useCallback(
    async (q: Question, item: string | undefined, value: string, note?: string) => {
      if (!held) return false;
      try {
        const canonical = core("answer", { question: q, value }).value;
        const given = view.visit.answers?.[ref]?.[keyOf(q.id, item)];
        const asset = q.prefill === "last" ? view.order.asset : undefined;
        if (!(await begin(held))) return false;
        const signed = q.kind === "signature" && canonical ? await standingFor(db, view, ref, canonical) : canonical;
        const body = { sheet: ref, question: q.id, item, value: signed, note: note ?? given?.note, asset };
        if (!(await record("sheet.answered", view.id, body))) return false;
        await write(q, canonical, view, record);
        return true;
      } catch (e) {
        tell(say(e instanceof CoreError ? e.code : { code: "unreadable" }));
        return false;
      }
    },
    [db, held, view, ref, begin, record, tell],
  );
  const copy = useCallback(
    async (section: Section, name: string, from?: SheetItem) => {
      if (!held) return false;
      try {
        if (!(await begin(held))) return false;
      } catch (e) {
        tell(say(e instanceof CoreError ? e.code : { code: "unreadable" }));
        return false;
      }
      const copied = section.questions.flatMap((q) => {
        const value = from && view.visit.answers?.[ref]?.[keyOf(q.id, from.id)]?.value;
        return value && q.kind !== "signature" ? [{ question: q.id, value }] : [];
      });
      const item = newId().toLowerCase();
      return !!(await record("sheet.repeated", view.id, { sheet: ref, section: section.id ?? "", item, name, copied: copied.map((c) => ({ ...c, item })) }));
    },
    [held, view, ref, begin, record, tell],
  );
  return useMemo(() => {
    if (!held) return held;
    return {
      name: `${view.id} ${ref}`,
      sheet: held.sheet,
      state: held.state,
      answers: view.visit.answers?.[ref] ?? {},
      currency: settings?.company.currency ?? "",
      areas: Object.fromEntries(Object.entries(view.site.areas ?? {}).map(([n, a]) => [n, JSON.stringify(a)])),
      answer,
      copy,
      repeat: (section, item) =>
        record("sheet.repeated", view.id, { sheet: ref, section: section.id ?? "", item: item.id, name: item.name ?? "", asset: item.asset }),
      catalogue: async () => ({ parts: await db.all("part"), kits: await db.all("kit") }),
      photos: (q, item) => <PhotoStrip view={view} about={{ sheet: ref, question: q.id, item }} before={() => begin(held)} />,
      reading: (q, line) => <SheetReading view={view} asset={line.asset ?? view.order.asset ?? ""} point={q.point ?? ""} />,
      strike: ({ entry, at, person }, kind) => <StrikeOut view={view} line={{ entry, at, person }} kind={kind} />,
      strikeItem: (i) => <StrikeOut view={view} line={i} kind="sheet.repeated" />,
      paper: (q) => q.document && <PaperLink paper={q.document} />,
    };
  }, [held, view, ref, settings, answer, copy, record, db, begin]);
}

type Recorder = ReturnType<typeof useRecord>;

/** An answer that updates what is known writes it into the record, with the value it replaces. */
async function write(q: Question, value: string, view: VisitView, record: Recorder) {
  if (q.kind === "area" && value) {
    const area = JSON.parse(value) as { name: string };
    if (!area.name) return;
    const before = view.site.areas?.[area.name] ?? null;
    if (JSON.stringify(before) === value) return;
    await record("record.amended", { type: "site", id: view.order.site }, { areas: { [area.name]: area } }, { base: { areas: { [area.name]: before } } });
    return;
  }
  if (!q.update || !q.prefill || !value) return;
  const [type, ...rest] = q.prefill.split(".");
  const path = rest.join(".");
  const [doc, id] = type === "asset" ? [view.asset, view.order.asset] : [view.site, view.order.site];
  if (!doc || !id || at(doc, path) === value) return;
  await record("record.amended", { type, id }, nest(path, value), { base: nest(path, at(doc, path)) });
}
