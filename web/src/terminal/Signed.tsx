import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../device/live";
import { loadVisit, useCore, useDevice, useNow, useRecord } from "../field/device";
import { readDay } from "../field/time/day";
import { useWhat } from "../field/time/words";
import type { VisitView } from "../types";
import { clock, duration, isoDate } from "../ui/format";
import { AnyStep } from "./AnyStep";
import type { Present } from "./people";
import { Say } from "./Say";
import { TaskList } from "./TaskList";

/** Seconds without a touch after which somebody is signed out. */
const patience = 30;
/** Seconds after which they identify themselves again, whatever they do: what they prove with is some minutes old at the most. */
const proven = 9 * 60;

/** Counts down to signing out; every touch starts it anew. */
function usePatience(since: number, onOver: () => void) {
  const left = useRef(patience);
  const [shown, setShown] = useState(patience);
  const over = useRef(onOver);
  over.current = onOver;
  useEffect(() => {
    const touch = () => {
      left.current = patience;
      setShown(patience);
    };
    const timer = setInterval(() => {
      left.current--;
      setShown(left.current);
      if (left.current <= 0 || Date.now() - since > proven * 1000) over.current();
    }, 1000);
    for (const e of ["pointerdown", "keydown"]) addEventListener(e, touch);
    return () => {
      clearInterval(timer);
      for (const e of ["pointerdown", "keydown"]) removeEventListener(e, touch);
    };
  }, [since]);
  return shown;
}

/** One person at the terminal: what runs, their tasks, other work, and a word to the office. */
export function Signed({ person, onLeave }: { person: Present; onLeave: () => void }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const ready = useCore();
  const now = useNow(1000);
  const left = usePatience(person.identified.since, onLeave);
  const today = isoDate(now);
  const minute = Math.floor(now / 10_000);
  const state = useLive(
    db,
    async (db) => {
      if (!ready) return undefined;
      const day = await readDay(db, person.person, today);
      const mine = (await db.all("visit")).filter(
        (v) =>
          (v.body.technician === person.person || v.body.helpers?.includes(person.person)) && !["finished", "withdrawn", "declined"].includes(v.body.stage),
      );
      const views = (await Promise.all(mine.map((v) => loadVisit(db, v.id)))).filter((v): v is VisitView => v !== null);
      return day && { day, views };
    },
    [ready, person, today, minute],
  );
  if (!state) return <p className="empty">{t("app.loading")}</p>;
  return (
    <main className="terminal-person">
      <div className="terminal-who">
        <h1>{person.name}</h1>
        <button type="button" className="answer next" onClick={onLeave}>
          {t("terminal.leave", { seconds: left })}
        </button>
      </div>
      <Running person={person} state={state} now={now} />
      <div className="terminal-columns">
        <TaskList person={person} views={state.views} />
        <div>
          <OtherWork person={person} state={state} />
          <AnyStep person={person} />
        </div>
      </div>
    </main>
  );
}

type State = { day: NonNullable<Awaited<ReturnType<typeof readDay>>>; views: VisitView[] };

function Running({ person, state, now }: { person: Present; state: State; now: number }) {
  const { t } = useTranslation();
  const record = useRecord();
  const say = useWhat(state.day);
  const running = state.day.day.spans.find((s) => s.open);
  const total = state.day.day.hours;
  const card = { type: "timecard", id: `${person.person}+${state.day.day.date}` };
  const what = running && say(running);
  return (
    <section className="terminal-running" aria-label={t("terminal.now")}>
      <span>
        <span className="small quiet block">{t("terminal.now")}</span>
        <b>{what ? `${what.kind} ${what.about}` : t("terminal.nothing")}</b>
      </span>
      {running && <span className="terminal-time">{clock((now - Date.parse(running.start)) / 1000)}</span>}
      <span className="small quiet">{t("terminal.today", { time: duration(total.work + total.travel + total.wait + (total.indirect ?? 0)) })}</span>
      {running?.kind === "indirect" && (
        <button type="button" className="answer" onClick={() => record("time.stopped", card, {}, { as: person })}>
          {t("terminal.stop")}
        </button>
      )}
    </section>
  );
}

function OtherWork({ person, state }: { person: Present; state: State }) {
  const { t } = useTranslation();
  const record = useRecord();
  const [saying, setSaying] = useState<"note" | "part">();
  const card = { type: "timecard", id: `${person.person}+${state.day.day.date}` };
  return (
    <section className="sec" aria-label={t("day.other")}>
      <h2>{t("day.other")}</h2>
      <div className="terminal-codes">
        {(state.day.settings.time.indirect ?? []).map((c) => (
          <button key={c.id} type="button" className="answer" onClick={() => record("time.started", card, { code: c.id }, { as: person })}>
            {c.text}
          </button>
        ))}
      </div>
      <h2>{t("terminal.office")}</h2>
      <div className="terminal-codes">
        <button type="button" className="answer" onClick={() => setSaying("note")}>
          {t("terminal.note")}
        </button>
        <button type="button" className="answer" disabled={state.views.length === 0} onClick={() => setSaying("part")}>
          {t("terminal.part")}
        </button>
      </div>
      {saying && <Say what={saying} person={person} date={state.day.day.date} views={state.views} onDone={() => setSaying(undefined)} />}
    </section>
  );
}
