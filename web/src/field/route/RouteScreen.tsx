import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { letCoreLoad } from "../../device/core";
import type { Leg } from "../../types";
import { Empty } from "../../ui/Empty";
import { dayOfMonth, duration, isDate, isoDate, longDate, momentOf, weekday } from "../../ui/format";
import { Glyph } from "../../ui/Glyph";
import { screen } from "../../ui/screen";
import { useNow, useWhole } from "../device";
import { SyncMark } from "../SyncMark";
import { isOver, onDay, type Stop, unconfirmed, useStops, waitsFor } from "../stops";
import { useUnread } from "../talk/talks";
import { useAhead } from "./ahead";
import { useAnnounce } from "./announce";
import { useLacks } from "./lacks";
import { useLegs, useOrder } from "./legs";
import { RouteStop } from "./RouteStop";
import { useCrewAsks } from "./useCrewAsks";

// What is asked for by a tap follows when it is.
const DayMap = screen(() => import("./DayMap"));
const Find = screen(() => import("./Find"));
const LeastDriving = screen(() => import("./LeastDriving"));
const OwnOrder = screen(() => import("./OwnOrder"));
const Directions = screen(() => import("./Directions"));
const Lacks = screen(() => import("./Lacks"));
const ConfirmEnds = screen(() => import("./ConfirmEnds"));
const CrewAsks = screen(() => import("./CrewAsks"));
const Waiting = lazy(() => import("./Waiting")); // it takes no component library, which the route starts without
const GettingReady = lazy(() => import("./GettingReady"));
const NearbyWork = screen(() => import("./NearbyWork"));
const FoundWork = screen(() => import("../work/FoundWork"));

const dayLength = 86_400_000;

export function RouteScreen({ chosen }: { chosen?: string }) {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const now = useNow(30_000);
  const today = isoDate(now);
  const wanted = params.get("day");
  const day = isDate(wanted) ? wanted : today;
  const all = useStops();
  const whole = useWhole();
  const stops = useMemo(() => all && onDay(all, day), [all, day]);
  const order = useOrder(day);
  const legs = useLegs(stops, order, now);
  const inOrder = useMemo(() => arrange(stops, legs), [stops, legs]);
  const taken = useMemo(() => legs?.map((l) => l.id) ?? [], [legs]);
  const lacks = useLacks(day >= today ? stops : undefined, taken);
  const [map, setMap] = useState(false);
  const [finding, setFinding] = useState(false);
  const [ordering, setOrdering] = useState<"least" | "own">();
  const ends = useMemo(() => unconfirmed(all ?? []), [all]);
  const waiting = useMemo(() => waitsFor(all ?? [], today), [all, today]);
  const asks = useCrewAsks();
  const ahead = useAhead();
  const hidden = day > today && (ahead === "today" || ahead === "next");
  const [way, setWay] = useState<string>();
  const [finds, setFinds] = useState(false);
  const [nearby, setNearby] = useState(false);
  const unread = useUnread();
  const shown = stops !== undefined;
  useEffect(() => {
    if (!shown) return;
    performance.mark("iter.route"); // for make bench
    letCoreLoad();
  }, [shown]);
  useAnnounce(all);
  const choose = (d: string) => setParams(d === today ? {} : { day: d }, { replace: true });
  const leg = legs?.find((l) => l.id === way);
  return (
    <main className="route">
      <header className="screen-head">
        <div>
          <h1>{longDate(momentOf(day, "12:00"))}</h1>
          <Sum stops={whole && !hidden ? stops : undefined} legs={legs} today={day === today} />
        </div>
        <SyncMark />
      </header>
      <Days stops={all ?? []} day={day} today={today} onChoose={choose} />
      <div className="route-tools">
        <button type="button" aria-pressed={finding} onClick={() => setFinding(!finding)}>
          {t("route.find")}
        </button>
        <button type="button" aria-pressed={map} onClick={() => setMap(!map)} disabled={!legs?.length}>
          {t("route.map")}
        </button>
        <button type="button" onClick={() => setFinds(true)}>
          {t("found.open")}
        </button>
        {stops && legs && legs.length > 1 && stops.some((x) => !isOver(x)) && (
          <button type="button" onClick={() => setOrdering("own")}>
            {t("order.open")}
          </button>
        )}
      </div>
      <Suspense fallback={null}>
        <GettingReady />
        {finding && all && <Find stops={all} />}
        {map && legs && stops && <DayMap legs={legs} stops={stops} onStop={setWay} />}
        {lacks.length > 0 && stops && <Lacks lacks={lacks} stops={stops} />}
        {ends.length > 0 && <ConfirmEnds ends={ends} />}
        {asks.length > 0 && <CrewAsks asks={asks} />}
        {waiting.length > 0 && <Waiting stops={waiting} />}
        {nearby && <NearbyWork onClose={() => setNearby(false)} />}
        {finds && <FoundWork onClose={() => setFinds(false)} />}
        {ordering === "least" && stops && <LeastDriving stops={stops} order={order} day={day} onClose={() => setOrdering(undefined)} />}
        {ordering === "own" && inOrder && <OwnOrder stops={inOrder} day={day} onLeast={() => setOrdering("least")} onClose={() => setOrdering(undefined)} />}
      </Suspense>
      <Fresh stops={all ?? []} />
      {stops && stops.length === 0 && whole !== undefined && <Empty>{t(!whole ? "route.first" : hidden ? "route.later" : "route.none")}</Empty>}
      <ol className="way">
        {inOrder?.map((s) => (
          <RouteStop
            key={s.id}
            stop={s}
            leg={legs?.find((l) => l.id === s.id)}
            lacks={lacks.filter((l) => l.stop === s.id).length}
            unread={unread[s.visit.order] ?? 0}
            chosen={s.id === chosen}
            onWay={() => setWay(s.id)}
          />
        ))}
      </ol>
      {day === today && shown && (
        <p className="nearby-ask">
          <button type="button" className="link" onClick={() => setNearby(true)}>
            {t("nearby.open")}
          </button>
        </p>
      )}
      {leg?.way && (
        <Suspense fallback={null}>
          <Directions leg={leg} stop={stops?.find((s) => s.id === way)} onClose={() => setWay(undefined)} />
        </Suspense>
      )}
    </main>
  );
}

/** Stops in the order of their legs; those that have none, since somebody else took them, last. */
function arrange(stops: Stop[] | undefined, legs: Leg[] | undefined): Stop[] | undefined {
  if (!stops || !legs) return stops;
  const rank = new Map(legs.map((l, i) => [l.id, i]));
  return stops.toSorted((a, b) => (rank.get(a.id) ?? legs.length) - (rank.get(b.id) ?? legs.length));
}

/** What the day comes to, once it is known. */
function Sum({ stops, legs, today }: { stops?: Stop[]; legs?: Leg[]; today: boolean }) {
  const { t } = useTranslation();
  if (!stops) return <p className="small quiet">{today && t("route.today")}</p>;
  const work = stops.reduce((n, s) => n + (s.part === "gone" ? 0 : s.visit.minutes * 60), 0);
  const drive = legs?.reduce((n, l) => n + (l.way?.seconds ?? 0), 0) ?? 0;
  return (
    <p className="small quiet">
      {today && `${t("route.today")} · `}
      {t("route.stops", { count: stops.length })}
      {work > 0 && ` · ${t("route.minutes", { time: duration(work) })}`}
      {drive > 0 && ` · ${t("route.drive", { time: duration(drive) })}`}
    </p>
  );
}

function Fresh({ stops }: { stops: Stop[] }) {
  const { t } = useTranslation();
  const fresh = stops.filter((s) => s.fresh);
  if (fresh.length === 0) return null;
  const news = fresh.filter((s) => s.fresh === "new").length;
  return (
    <p className="fresh" role="status">
      <Glyph stage="sent" /> <span className="strong">{news > 0 ? t("route.newOne", { count: news }) : t("route.changedOne", { count: fresh.length })}</span>
      <Link className="link" to={`/field/visit/${fresh[0].id}`}>
        {t("route.show")}
      </Link>
    </p>
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
