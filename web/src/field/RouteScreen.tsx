import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { letCoreLoad } from "../device/core";
import type { Visit } from "../types";
import { Empty } from "../ui/Empty";
import { dayOfMonth, duration, isoDate, longDate, momentOf, time, weekday } from "../ui/format";
import { Glyph, Tag } from "../ui/Glyph";
import { useNow, useReplica } from "./device";
import { SyncMark } from "./SyncMark";
import { isRunning, onDay, type Stop, useStops } from "./stops";

const dayLength = 86_400_000;

export function RouteScreen({ chosen }: { chosen?: string }) {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const now = useNow(30_000);
  const today = isoDate(now);
  const day = params.get("day") ?? today;
  const all = useStops();
  const contact = useReplica()?.contact;
  const stops = all && onDay(all, day);
  const shown = stops !== undefined;
  useEffect(() => {
    if (!shown) return;
    performance.mark("iter.route"); // for make bench
    letCoreLoad();
  }, [shown]);
  const fresh = all?.filter((s) => s.fresh) ?? [];
  const choose = (d: string) => setParams(d === today ? {} : { day: d }, { replace: true });
  const noon = momentOf(day, "12:00");
  return (
    <main className="route">
      <header className="screen-head">
        <div>
          <h1>{longDate(noon)}</h1>
          <p className="small quiet">
            {day === today && `${t("route.today")} · `}
            {t("route.stops", { count: stops?.length ?? 0 })}
            {stops && stops.length > 0 && ` · ${t("route.minutes", { time: duration(stops.reduce((n, s) => n + s.visit.minutes * 60, 0)) })}`}
          </p>
        </div>
        <SyncMark />
      </header>
      <Days stops={all ?? []} day={day} today={today} onChoose={choose} />
      {fresh.length > 0 && (
        <p className="fresh" role="status">
          <Glyph stage="sent" /> <span className="strong">{t("route.newOne", { count: fresh.length })}</span>
          <Link className="link" to={`/field/visit/${fresh[0].id}`}>
            {t("route.show")}
          </Link>
        </p>
      )}
      {stops && stops.length === 0 && <Empty>{contact ? t("route.none") : t("route.first")}</Empty>}
      <ol className="way">
        {stops?.map((s) => (
          <RouteStop key={s.id} stop={s} now={now} chosen={s.id === chosen} />
        ))}
      </ol>
    </main>
  );
}

/** Three weeks of days, one of them past, each with a stroke for every stop. */
function Days({ stops, day, today, onChoose }: { stops: Stop[]; day: string; today: string; onChoose: (d: string) => void }) {
  const on = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    void on.current?.scrollIntoView({ inline: "center", block: "nearest" });
  }, []);
  const noon = momentOf(today, "12:00").getTime();
  const days = Array.from({ length: 21 }, (_, i) => noon + (i - 7) * dayLength);
  const count = new Map<string, number>();
  for (const s of stops) count.set(isoDate(s.visit.start), (count.get(isoDate(s.visit.start)) ?? 0) + 1);
  return (
    <div className="days">
      {days.map((d) => {
        const iso = isoDate(d);
        const n = count.get(iso) ?? 0;
        return (
          <button
            type="button"
            key={iso}
            ref={iso === day ? on : undefined}
            aria-current={iso === day ? "date" : undefined}
            className={iso === today ? "today" : undefined}
            aria-label={`${longDate(d)}, ${n}`}
            onClick={() => onChoose(iso)}
          >
            <span className="tiny">{weekday(d)}</span>
            <b>{dayOfMonth(d)}</b>
            <i>
              {Array.from({ length: Math.min(n, 6) }, (_, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: strokes are all alike
                <b key={i} />
              ))}
            </i>
          </button>
        );
      })}
    </div>
  );
}

/** When somebody set off or arrived there. */
const came = (v: Visit) => v.steps?.findLast((s) => !s.struck && (s.action === "arrived" || s.action === "set_off"))?.at;

function RouteStop({ stop, now, chosen }: { stop: Stop; now: number; chosen: boolean }) {
  const { t } = useTranslation();
  const { visit, order, site, fresh } = stop;
  const done = visit.stage === "finished" || visit.stage === "withdrawn" || visit.stage === "declined";
  const state = isRunning(stop) ? "now" : done ? "done" : "todo";
  const promise = order?.promiseTo;
  const late = promise !== undefined && !done && Date.parse(promise) < now;
  const unsigned = visit.stage === "finished" && !visit.signatures?.some((s) => !s.struck);
  return (
    <li className={`stop ${state}${chosen ? " chosen" : ""}`}>
      <span className="stop-time">{time(came(visit) ?? visit.start)}</span>
      <span className="stop-line">
        <Glyph stage={visit.stage} />
      </span>
      <Link to={`/field/visit/${stop.id}`} className="stop-body">
        <span className="strong">{site?.name}</span>
        {fresh && <span className="stop-new">{t("route.new")}</span>}
        <span className="small block">{order?.problem}</span>
        <span className="small quiet block">
          {t(`stage.${visit.stage}`)} · {duration(visit.minutes * 60)}
        </span>
        {promise && !done && (
          <span className="block">
            <Tag kind={late ? "bad" : "warn"}>{t(late ? "route.late" : "route.promise", { time: time(promise) })}</Tag>
          </span>
        )}
        {unsigned && (
          <span className="block">
            <Tag kind="warn">{t("route.signNow")}</Tag>
          </span>
        )}
      </Link>
    </li>
  );
}
