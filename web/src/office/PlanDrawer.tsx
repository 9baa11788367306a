import { Button, MenuItem, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useDraft } from "../draft/draft";
import { ThrowAway } from "../draft/ThrowAway";
import { DateField, TimeField } from "../form/dates";
import type { BoardPerson, EntryDraft, OrderLine, VisitPlan } from "../types";
import { isDate, isoDate, isTime, moment, momentOf, time, timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { LayerDrawer } from "../ui/Layers";
import { Sure, useSure } from "../ui/Sure";
import { Before } from "./Before";
import { usePlanCommands } from "./board/usePlanDraft";
import { FreeTimes } from "./FreeTimes";
import { MoreDays } from "./MoreDays";
import { Failure, useBoard } from "./queries";

interface Props {
  order: Pick<OrderLine, "id" | "number" | "problem" | "site" | "minutes"> & Partial<OrderLine>;
  date: string;
  /** who is to go, and when, where that is known */
  at?: { person: string; start: number };
  onClose: () => void;
  onDone?: (sentence: string) => void;
}

/** What is typed and not recorded: it stays when the form is closed, or the page goes. */
interface Typed {
  who: string;
  offer?: string[];
  helpers: string[];
  things: string[];
  day: string;
  more: string[]; // further days
  start: string;
  minutes: string;
  spare: boolean;
}

/** Who goes, and when: one technician, or whoever of several accepts first. */
export function PlanDrawer({ order, date, at, onClose, onDone }: Props) {
  const { t } = useTranslation();
  const commands = usePlanCommands({ form: true });
  // The next quarter of an hour that can be reached: late in the evening it is tomorrow's.
  const [soon] = useState(() => Math.ceil((Date.now() + 1_800_000) / 900_000) * 900_000);
  const draft = useDraft<Typed>(`plan ${order.id}`, {
    who: at?.person ?? "",
    helpers: [],
    things: order.things ?? [],
    day: at ? isoDate(at.start) : date < isoDate(soon) ? isoDate(soon) : date,
    more: [],
    start: time(at?.start ?? soon),
    minutes: String(order.minutes),
    spare: false,
  });
  const { who, offer, helpers, things, day, more, start, minutes, spare } = draft.value;
  const { change } = draft;
  const board = useBoard(day, commands.drafting).data;
  const people = board?.people ?? [];
  const booked = board?.plan.lanes.filter((l) => l.thing) ?? [];
  const busy = people.find((p) => p.id === who)?.visits.length ?? 0;
  const needs = order.skills ?? [];
  const qualified = (p: BoardPerson) => needs.every((s) => p.skills.includes(s));
  const days = [day, ...more];
  const noTime = days.some((d) => isDate(d) && start !== "" && !isTime(d, start));
  const ready = (offer ? offer.length > 0 : who !== "") && days.every(isDate) && new Set(days).size === days.length && start !== "" && !noTime;
  const past = start !== "" ? days.find((d) => isDate(d) && momentOf(d, start).getTime() < Date.now() - 60_000) : undefined;
  const sure = useSure(past && t("plan.past", { time: timeOrDay(momentOf(past, start)) }));

  const plan = async (send: boolean) => {
    if (!sure.ask()) return;
    const all = days.flatMap((d, i): EntryDraft[] => {
      const subject = { type: "visit", id: commands.idOf(`visit ${i}`) };
      const body: VisitPlan = {
        order: order.id,
        technician: offer ? "" : who,
        offer,
        helpers: helpers.length > 0 ? helpers.filter((h) => h !== who) : undefined,
        things: things.length > 0 ? things : undefined,
        start: moment(momentOf(d, start)),
        minutes: Math.round(Number(minutes)),
        spare: spare || undefined,
      };
      const planned: EntryDraft = { kind: "visit.planned", subject, body };
      return send && !commands.drafting ? [planned, { kind: "visit.sent", subject, body: {} }] : [planned];
    });
    await commands.mutateAsync(all);
    draft.clear();
    const name = offer ? t("plan.people", { count: offer.length }) : people.find((p) => p.id === who)?.name;
    onDone?.(t(commands.drafting ? "plandraft.taken" : send ? "plan.sent" : "plan.planned", { name }));
    onClose();
  };
  const submit = (e: FormEvent) => {
    e.preventDefault();
    plan(true).catch(() => {}); // said below
  };
  return (
    <LayerDrawer anchor="right" onClose={onClose} slotProps={{ paper: { "aria-label": t("plan.title"), role: "dialog" } }}>
      <form className="plan-form" onSubmit={submit}>
        <h1>{t("plan.title")}</h1>
        <p>
          <span className="strong block">{order.problem}</span>
          <span className="quiet">
            {order.site} · <Link to={`/office/orders/${order.id}`}>{order.number}</Link>
          </span>
        </p>
        <Before order={order} />
        <div className="options">
          <button type="button" aria-pressed={!offer} onClick={() => change({ offer: undefined })}>
            {t("plan.toOne")}
          </button>
          <button type="button" aria-pressed={!!offer} onClick={() => change({ offer: people.filter(qualified).map((p) => p.id) })}>
            {t("plan.toSeveral")}
          </button>
        </div>
        {!offer && (
          <FreeTimes
            asked={{ order: order.id, from: isDate(day) ? day : undefined }}
            label={t("free.take")}
            most={3}
            onTake={(f) => change({ who: f.person, day: f.date, start: time(f.start) })}
          />
        )}
        {offer ? (
          <People
            label={t("plan.offer")}
            hint={t("plan.offerHint")}
            people={people}
            qualified={qualified}
            chosen={offer}
            onChoose={(ids) => change({ offer: ids })}
          />
        ) : (
          <TextField select label={t("plan.technician")} value={who} onChange={(e) => change({ who: e.target.value })} required>
            {people.map((p) => (
              <MenuItem key={p.id} value={p.id}>
                {p.name}
                {!qualified(p) && <span className="small quiet">&nbsp;· {t("plan.unqualified")}</span>}
              </MenuItem>
            ))}
          </TextField>
        )}
        {who && !offer && <p className="small quiet">{t("plan.others", { count: busy })}</p>}
        <TextField
          select
          label={t("plan.helpers")}
          value={helpers}
          onChange={(e) => change({ helpers: e.target.value as unknown as string[] })}
          slotProps={{ select: { multiple: true } }}
        >
          {people
            .filter((p) => p.id !== who)
            .map((p) => (
              <MenuItem key={p.id} value={p.id}>
                {p.name}
              </MenuItem>
            ))}
        </TextField>
        {booked.length > 0 && (
          <TextField
            select
            label={t("board.things")}
            value={things}
            onChange={(e) => change({ things: e.target.value as unknown as string[] })}
            slotProps={{ select: { multiple: true } }}
          >
            {booked.map((l) => (
              <MenuItem key={l.id} value={l.id}>
                {l.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <DateField label={t("plan.date")} value={day} onChange={(to) => change({ day: to })} required />
        <MoreDays first={day} days={more} onChange={(to) => change({ more: to })} />
        <TimeField label={t("plan.start")} value={start} onChange={(to) => change({ start: to })} required />
        <TextField
          type="number"
          label={t("plan.minutes")}
          value={minutes}
          onChange={(e) => change({ minutes: e.target.value })}
          required
          slotProps={{ htmlInput: { min: 1, max: 20160 } }}
        />
        <label className="small">
          <input type="checkbox" checked={spare} onChange={(e) => change({ spare: e.target.checked })} /> {t("plan.spare")}
        </label>
        {noTime && (
          <p role="alert">
            <Tag kind="bad">{t("time.noSuchHour")}</Tag>
          </p>
        )}
        <Sure warning={sure.warning} />
        <Failure error={commands.error} />
        <div className="plan-actions">
          <Button type="submit" variant="contained" disabled={!ready || commands.isPending}>
            {t(commands.drafting ? "plandraft.into" : "plan.send")}
          </Button>
          {!commands.drafting && (
            <Button disabled={!ready || commands.isPending} onClick={() => plan(false).catch(() => {})}>
              {t("plan.keep")}
            </Button>
          )}
          <ThrowAway draft={draft} />
          <button type="button" className="link" onClick={onClose}>
            {t("choose.cancel")}
          </button>
        </div>
      </form>
    </LayerDrawer>
  );
}

interface PeopleProps {
  label: string;
  hint: string;
  people: BoardPerson[];
  qualified: (p: BoardPerson) => boolean;
  chosen: string[];
  onChoose: (ids: string[]) => void;
}

/** People to tick, those who are qualified first. */
function People({ label, hint, people, qualified, chosen, onChoose }: PeopleProps) {
  const { t } = useTranslation();
  return (
    <fieldset className="people">
      <legend className="small">{label}</legend>
      {people
        .toSorted((a, b) => Number(qualified(b)) - Number(qualified(a)))
        .map((p) => (
          <label key={p.id}>
            <input
              type="checkbox"
              checked={chosen.includes(p.id)}
              onChange={(e) => onChoose(e.target.checked ? [...chosen, p.id] : chosen.filter((c) => c !== p.id))}
            />
            {p.name}
            <span className="small quiet">{qualified(p) ? t("route.stops", { count: p.visits.length }) : t("plan.unqualified")}</span>
          </label>
        ))}
      <p className="small quiet">{hint}</p>
    </fieldset>
  );
}
