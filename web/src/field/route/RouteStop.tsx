import { Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useLive } from "../../device/live";
import { keptWays, whyNoWay } from "../../device/ways";
import type { Leg, StepTaken, Visit } from "../../types";
import { duration, kilometres, time, timeOrDay } from "../../ui/format";
import { Glyph, Tag } from "../../ui/Glyph";
import { MovedFrom } from "../../ui/MovedFrom";
import { screen } from "../../ui/screen";
import { useDevice } from "../device";
import { useSteps } from "../step";
import { asked, isOver, isUnderWay, isUnsigned, type Stop } from "../stops";
import { useSwipe } from "./swipe";

const ActionDrawer = screen(() => import("../ActionDrawer"));

/** When somebody set off or arrived there. */
const came = (v: Visit) =>
  v.steps?.findLast((s) => !s.struck && s.action === "arrived")?.at ?? v.steps?.findLast((s) => !s.struck && s.action === "set_off")?.at;

interface Props {
  stop: Stop;
  leg?: Leg;
  /** how many parts it needs that the van does not have */
  lacks: number;
  /** how much was said about its work order that is not read */
  unread: number;
  chosen: boolean;
  onWay: () => void;
}

/** A stop with the leg to it: how long the drive is, when it is to be expected, what was promised. */
export function RouteStop({ stop, leg, lacks, unread, chosen, onWay }: Props) {
  const { t } = useTranslation();
  const { taken, resting } = useSteps();
  const done = isOver(stop);
  // What was just answered keeps its buttons for a moment: a second tap must not open the visit.
  const answering = stop.visit.stage === "sent" || (resting && taken?.visit === stop.id && stop.visit.stage === "accepted");
  const state = isUnderWay(stop) ? "now" : done ? "done" : "todo";
  const way = leg?.way;
  const ways = useLive(useDevice().db, keptWays, []);
  const { lat = 0, lon = 0 } = stop.site ?? {};
  const why = !way && (lat !== 0 || lon !== 0) ? whyNoWay(ways, { lat, lon }) : undefined;
  return (
    <>
      {way && !done && (
        <li className={`leg ${state}`}>
          <span className="stop-line" />
          <button type="button" className="leg-way" onClick={onWay} aria-label={t("route.wayTo", { site: stop.site?.name })}>
            {t("route.leg", { time: duration(way.seconds), way: kilometres(way.metres) })}
            {way.parts.some((p) => p.class === "ferry") && ` · ${t("route.ferry")}`}
          </button>
        </li>
      )}
      {why && !done && (
        <li className={`leg ${state}`}>
          <span className="stop-line" />
          <span className="small quiet">{t(`route.${why}`)}</span>
        </li>
      )}
      <li className={`stop ${state}${chosen ? " chosen" : ""}${stop.part === "gone" ? " gone" : ""}`}>
        <StopTime stop={stop} leg={leg} />
        <span className="stop-line">
          <Glyph stage={stop.part === "gone" ? "withdrawn" : stop.standing.stage} />
        </span>
        {answering && (stop.part === "own" || stop.part === "offer") ? (
          <Answering stop={stop} leg={leg} lacks={lacks} unread={unread} />
        ) : (
          <Link to={`/field/visit/${stop.id}`} className="stop-body">
            <Body stop={stop} leg={leg} lacks={lacks} unread={unread} />
          </Link>
        )}
      </li>
    </>
  );
}

/** When they came, or are expected; the planned time below it when that is another. */
function StopTime({ stop, leg }: { stop: Stop; leg?: Leg }) {
  const { t } = useTranslation();
  const was = came(stop.visit);
  const planned = time(stop.visit.start);
  const expected = !was && !isOver(stop) && leg?.arrive ? time(leg.arrive) : undefined;
  return (
    <span className="stop-time">
      {was ? time(was) : (expected ?? planned)}
      {expected && expected !== planned && <span className="tiny quiet block">{t("route.plannedAt", { time: planned })}</span>}
    </span>
  );
}

function Body({ stop, leg, lacks, unread }: { stop: Stop; leg?: Leg; lacks: number; unread: number }) {
  const { t } = useTranslation();
  const { visit, order, site, fresh, part } = stop;
  const done = isOver(stop);
  const promise = order?.promiseTo;
  const risk = leg?.risk;
  const question = part === "own" && asked(visit);
  return (
    <>
      <span className="strong">{site?.name}</span>
      {fresh && <span className="stop-new">{t(part === "gone" ? "route.taken" : fresh === "new" ? "route.new" : "route.changed")}</span>}
      <span className="small block">{order?.problem}</span>
      <span className="small quiet block">
        {part === "gone"
          ? t("route.gone")
          : part === "offer"
            ? t("route.offer", { count: visit.offered?.length ?? 0 })
            : part === "helper"
              ? t("route.helping")
              : t(`stage.${stop.standing.stage}`)}{" "}
        · {duration(visit.minutes * 60)}
      </span>
      {part === "own" && <MovedFrom visit={visit} />}
      {promise && !done && (
        <span className="block">
          <Tag kind={risk === "late" ? "bad" : "warn"}>
            {t(risk === "late" ? "route.lateRisk" : risk === "tight" ? "route.tight" : "route.promise", { time: time(promise) })}
          </Tag>
        </span>
      )}
      {order?.doneBy && !done && (
        <span className="block">
          <Tag kind={leg?.done === "late" ? "bad" : "warn"}>
            {t(leg?.done === "late" ? "route.doneLate" : leg?.done === "tight" ? "route.doneTight" : "route.doneBy", { time: timeOrDay(order.doneBy) })}
          </Tag>
        </span>
      )}
      {lacks > 0 && (
        <span className="block">
          <Tag kind="bad">{t("lacks.stop", { count: lacks })}</Tag>
        </span>
      )}
      {part === "own" && isUnsigned(visit) && (
        <span className="block">
          <Tag kind="warn">{t("route.signNow")}</Tag>
        </span>
      )}
      {question && (
        <span className="block">
          <Tag kind="bad">{t("asks.title")}</Tag>
        </span>
      )}
      {unread > 0 && (
        <span className="block">
          <Tag kind="warn">{t("talk.unread", { count: unread })}</Tag>
        </span>
      )}
    </>
  );
}

/** A stop that waits for an answer: two buttons, or a swipe to the right or left. */
function Answering({ stop, leg, lacks, unread }: { stop: Stop; leg?: Leg; lacks: number; unread: number }) {
  const { t } = useTranslation();
  const { take } = useSteps();
  const [asking, setAsking] = useState(false);
  const accept = () => void take(stop.id, "accepted", {}, { site: stop.site?.name });
  const { moved, handlers } = useSwipe(accept, () => setAsking(true));
  const decline = async (body: StepTaken) => {
    setAsking(false);
    await take(stop.id, "declined", body, { site: stop.site?.name });
  };
  return (
    <div className="stop-answer" {...handlers} style={{ transform: `translateX(${moved}px)` }}>
      <Link to={`/field/visit/${stop.id}`} className="stop-body" draggable={false}>
        <Body stop={stop} leg={leg} lacks={lacks} unread={unread} />
      </Link>
      {moved !== 0 && (
        <span className={`stop-swipe ${moved > 0 ? "right" : "left"}`} aria-hidden="true">
          {t(moved > 0 ? "action.accepted" : "action.declined")}
        </span>
      )}
      <div className="stop-answers">
        <button type="button" className="answer" onClick={accept} aria-label={t("route.acceptSite", { site: stop.site?.name })}>
          {t("action.accepted")}
        </button>
        <button type="button" className="answer" onClick={() => setAsking(true)} aria-label={t("route.declineSite", { site: stop.site?.name })}>
          {t("action.declined")}
        </button>
      </div>
      {asking && (
        <Suspense fallback={null}>
          <ActionDrawer action="declined" visit={stop.id} onChoose={decline} onClose={() => setAsking(false)} />
        </Suspense>
      )}
    </div>
  );
}
