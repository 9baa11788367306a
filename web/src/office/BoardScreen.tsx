import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { useMay } from "../session/session";
import type { Board, OrderLine } from "../types";
import { FoundBy } from "../ui/FoundBy";
import { duration, isDate, isoDate, longDate, momentOf, shortDate, timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { reasonText } from "../ui/reasons";
import { dayHours, Lane } from "./Lane";
import { PlanDrawer } from "./PlanDrawer";
import { Answer, useBoard, useSettings } from "./queries";

const dayLength = 86_400_000;

/** The day by technician: planned against actual, live. */
export function BoardScreen() {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const today = isoDate(Date.now());
  const asked = params.get("date");
  const date = isDate(asked) ? asked : today;
  const query = useBoard(date);
  const noon = momentOf(date, "12:00").getTime();
  const move = (days: number) => {
    const d = isoDate(noon + days * dayLength);
    setParams(d === today ? {} : { date: d }, { replace: true });
  };
  return (
    <main className="board">
      <header className="board-top">
        <h1>{longDate(noon)}</h1>
        <span className="board-days">
          <Button aria-label={t("board.previous")} onClick={() => move(-1)}>
            ‹
          </Button>
          <Button disabled={date === today} onClick={() => setParams({}, { replace: true })}>
            {t("board.today")}
          </Button>
          <Button aria-label={t("board.next")} onClick={() => move(1)}>
            ›
          </Button>
        </span>
        {query.data && <Counts board={query.data} />}
      </header>
      <Answer query={query}>{(board) => <Day board={board} />}</Answer>
    </main>
  );
}

function Counts({ board }: { board: Board }) {
  const { t } = useTranslation();
  const visits = board.people.flatMap((p) => p.visits);
  const flagged = visits.filter((v) => v.flags > 0).length;
  return (
    <>
      <span className="quiet">
        {t("board.summary", { people: board.people.length, visits: visits.length })} ·{" "}
        {t("board.onSite", { count: visits.filter((v) => v.stage === "on_site" || v.stage === "paused").length })} ·{" "}
        {t("board.finished", { count: visits.filter((v) => v.stage === "finished").length })}
      </span>
      <span className="board-alarms">
        {flagged > 0 && <Tag kind="warn">{t("board.flagged", { count: flagged })}</Tag>}
        {board.unread > 0 && (
          <Link to="/office/review/messages">
            <Tag kind="warn">{t("board.unread", { count: board.unread })}</Tag>
          </Link>
        )}
        {board.held > 0 && (
          <Link to="/office/review/attention">
            <Tag kind="bad">{t("board.held", { count: board.held })}</Tag>
          </Link>
        )}
      </span>
    </>
  );
}

function Day({ board }: { board: Board }) {
  const { t } = useTranslation();
  const [placing, setPlacing] = useState<OrderLine>();
  const mayPlan = useMay("visit.planned");
  const hours = dayHours(board);
  return (
    <div className="board-day">
      <div className="lanes">
        <div className="hours" aria-hidden="true">
          <span />
          <span className="hours-track">
            {hours.map((h) => (
              <span key={h.at} style={{ left: `${h.left}%` }}>
                {h.text}
              </span>
            ))}
          </span>
        </div>
        {board.people.map((p) => (
          <Lane key={p.id} person={p} board={board} />
        ))}
        <p className="small quiet board-foot">
          <a href={`/api/office/day.geojson?date=${board.date}`} download>
            {t("board.geojson")}
          </a>{" "}
          {t("board.geojsonHint")}
        </p>
      </div>
      <aside className="to-place">
        <LeftBehind board={board} />
        <Offers board={board} />
        <h2>
          {t("board.toPlace")} <span className="quiet">{board.unplaced.length + board.more}</span>
        </h2>
        <p className="tiny quiet">{board.unplaced.length > 0 ? t("board.toPlaceHint") : t("board.nothingToPlace")}</p>
        <ul>
          {board.unplaced.map((o) => (
            <li key={o.id}>
              <button type="button" disabled={!mayPlan} onClick={() => setPlacing(o)}>
                <span className="strong block">{o.problem}</span>
                <span className="small block">{o.site}</span>
                <OrderMarks order={o} now={board.now} />
              </button>
            </li>
          ))}
        </ul>
        {board.more > 0 && <p className="small">{t("board.more", { count: board.more })}</p>}
      </aside>
      {placing && <PlanDrawer order={placing} date={board.date} onClose={() => setPlacing(undefined)} />}
    </div>
  );
}

/** Visits of earlier days that are not over: somebody has to end, move or withdraw them. */
function LeftBehind({ board }: { board: Board }) {
  const { t } = useTranslation();
  if (board.left.length === 0) return null;
  return (
    <details className="left-behind">
      <summary>
        <Tag kind="warn">{t("board.left", { count: board.left.length })}</Tag>
      </summary>
      <ul className="offers">
        {board.left.map((l) => (
          <li key={l.visit}>
            <Link to={`/office/visits/${l.visit}`}>
              <span className="strong block">{l.order.problem}</span>
              <span className="small block">
                {l.name} · {l.order.site}
              </span>
              <span className="small quiet block">{t("board.leftLine", { day: shortDate(l.start), stage: t(`stage.${l.stage}`) })}</span>
            </Link>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** What was offered to several people and nobody has accepted yet. */
function Offers({ board }: { board: Board }) {
  const { t } = useTranslation();
  const declines = useSettings().data?.visits.declines ?? [];
  if (board.offers.length === 0) return null;
  return (
    <>
      <h2>
        {t("board.offers")} <span className="quiet">{board.offers.length}</span>
      </h2>
      <ul className="offers">
        {board.offers.map((o) => (
          <li key={o.visit}>
            <Link to={`/office/visits/${o.visit}`}>
              <span className="strong block">{o.order.problem}</span>
              <span className="small block">
                {o.order.site} · {timeOrDay(o.start)}
              </span>
              <span className="small quiet block">{o.to.join(", ")}</span>
              {o.declined.map((d) => (
                <span className="small block" key={d.name}>
                  {t("declined.by", { name: d.name, reason: reasonText(declines, d.reason ?? "") })}
                </span>
              ))}
            </Link>
          </li>
        ))}
      </ul>
    </>
  );
}

function OrderMarks({ order, now }: { order: OrderLine; now: string }) {
  const { t } = useTranslation();
  const late = order.promise && Date.parse(order.promise) < Date.parse(now);
  return (
    <span className="small quiet order-marks">
      {order.priority === "emergency" && <Tag kind="bad">{t("priority.emergency")}</Tag>}
      {order.waits ? <Tag kind="warn">{t("board.waits", { count: order.waits })}</Tag> : order.in && <Tag kind="good">{t("board.in")}</Tag>}
      {order.back && <Tag kind="warn">{t("board.back", { reason: order.reason || t(`outcome.${order.outcome || "return_needed"}`) })}</Tag>}
      {order.found && (
        <Tag kind="good">
          <FoundBy found={order.found} />
        </Tag>
      )}
      {order.promise && <Tag kind={late ? "bad" : "warn"}>{t(late ? "route.late" : "route.promise", { time: timeOrDay(order.promise) })}</Tag>}
      <span>
        {order.number} · {duration(order.minutes * 60)}
      </span>
    </span>
  );
}
