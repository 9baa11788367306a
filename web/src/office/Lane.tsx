/** One technician's day on the board: what is planned as an outline, what happened as a line along it. */
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Board, BoardDrive, BoardPerson, BoardVisit, Interval } from "../types";
import { absenceWhy } from "../ui/absence";
import { dayOrTime, duration, kilometres, momentOf, nextDate, time } from "../ui/format";
import { Glyph, Tag } from "../ui/Glyph";
import { reasonText } from "../ui/reasons";
import { useSettings } from "./queries";

const hour = 3_600_000;

/** The span of hours that the board shows: what is planned and what happened, whole hours, ten at least. */
function bounds(board: Board): [number, number] {
  const marks = board.people.flatMap((p) =>
    p.visits.flatMap((v) => [
      Date.parse(v.start),
      Date.parse(v.start) + v.minutes * 60_000,
      ...(v.setOff ? [Date.parse(v.setOff)] : []),
      ...(v.ended ? [Date.parse(v.ended)] : []),
    ]),
  );
  // What goes on over midnight is on both days: each shows its own hours.
  const [dawn, end] = [momentOf(board.date, "00:00").getTime(), momentOf(nextDate(board.date), "00:00").getTime()];
  const morning = momentOf(board.date, "07:00").getTime();
  const from = Math.max(dawn, Math.floor(Math.min(...marks, morning) / hour) * hour);
  const to = Math.min(end, Math.ceil(Math.max(...marks, morning + 10 * hour) / hour) * hour);
  return [from, to];
}

/** The stretches of some hours in which somebody does not work. */
function outside([from, to]: [number, number], hours: Interval[]): [number, number][] {
  const out: [number, number][] = [];
  let at = from;
  for (const h of hours) {
    if (Date.parse(h.begin) > at) out.push([at, Math.min(to, Date.parse(h.begin))]);
    at = Math.max(at, Date.parse(h.end));
  }
  if (at < to) out.push([at, to]);
  return out;
}

const place = ([from, to]: [number, number], t: number) => Math.max(0, Math.min(100, ((t - from) / (to - from)) * 100));

export function dayHours(board: Board) {
  const b = bounds(board);
  const every = b[1] - b[0] > 14 * hour ? 2 : 1;
  const out = [];
  for (let at = b[0]; at < b[1]; at += every * hour) out.push({ at, left: place(b, at), text: time(at).slice(0, 2) });
  return out;
}

export function Lane({ person, board }: { person: BoardPerson; board: Board }) {
  const { t } = useTranslation();
  const b = bounds(board);
  const now = Date.parse(board.now);
  const reasons = useSettings().data?.planning.absences ?? [];
  const free = person.hours.length > 0 ? outside(b, person.hours) : person.off ? [b] : [];
  return (
    <section className="lane" aria-label={person.name}>
      <div className="lane-who">
        <b>{person.short}</b>
        {person.off && <span className="tiny block">{t("board.off", { why: absenceWhy(reasons, person.off) })}</span>}
        <span className="tiny quiet block">{person.visits.length > 0 ? t("route.stops", { count: person.visits.length }) : t("board.none")}</span>
      </div>
      <div className="lane-track">
        {free.map(([from, to]) => (
          <span key={from} className="lane-free" style={{ left: `${place(b, from)}%`, width: `${place(b, to) - place(b, from)}%` }} />
        ))}
        {now > b[0] && now < b[1] && <span className="lane-now" style={{ left: `${place(b, now)}%` }} />}
        {person.visits.map((v) => (
          <LaneVisit key={v.id} visit={v} bounds={b} now={now} />
        ))}
      </div>
      <ol className="lane-list">
        {person.visits.map((v) => (
          <VisitLine key={v.id} visit={v} board={board} />
        ))}
      </ol>
    </section>
  );
}

/** The picture of a visit; the words are in the list below it. */
function LaneVisit({ visit: v, bounds: b, now }: { visit: BoardVisit; bounds: [number, number]; now: number }) {
  const start = Date.parse(v.start);
  const left = place(b, start);
  const width = place(b, start + v.minutes * 60_000) - left;
  const bar = (from: number, to: number) => ({ left: `${place(b, from)}%`, width: `${Math.max(0.3, place(b, to) - place(b, from))}%` });
  const arrived = v.arrived ? Date.parse(v.arrived) : undefined;
  // Where the clock of what is begun went elsewhere, the line ends.
  const ended = v.ended ? Date.parse(v.ended) : v.left ? Date.parse(v.since) : undefined;
  return (
    <span aria-hidden="true">
      <span className={`plan ${v.stage}`} style={{ left: `${left}%`, width: `${width}%` }}>
        <Glyph stage={v.stage} />
      </span>
      {v.drive && !v.setOff && (
        <span className={`drive${v.drive.risk ? ` ${v.drive.risk}` : ""}`} style={bar(Date.parse(v.drive.setOff), Date.parse(v.drive.arrive))} />
      )}
      {v.setOff && <span className="did travel" style={bar(Date.parse(v.setOff), arrived ?? now)} />}
      {arrived && <span className={`did work${ended ? "" : " open"}`} style={bar(arrived, ended ?? now)} />}
    </span>
  );
}

/** Why a visit stands still: what its clock went to, or the reason of the pause or of declining. */
function Why({ visit: v, board }: { visit: BoardVisit; board: Board }) {
  const { t } = useTranslation();
  const settings = useSettings().data;
  const site = v.for?.visit && board.people.flatMap((p) => p.visits).find((x) => x.id === v.for?.visit)?.site;
  const code = settings?.time.indirect?.find((c) => c.id === v.for?.code)?.text;
  const reasons = (v.stage === "declined" ? settings?.visits.declines : settings?.time.pauses) ?? [];
  const word = v.left ? (site ? t("board.wentOn", { site }) : (code ?? t("dock.stoppedClock"))) : reasonText(reasons, v.reason ?? "");
  return <span className="quiet">{word} </span>;
}

/** How far a stop off its plan is before that is said, in milliseconds. */
const offPlan = 5 * 60_000;

/** The way to a visit that is to come, and when somebody is there when that is not as planned. */
function Expected({ visit: v, drive }: { visit: BoardVisit; drive: BoardDrive }) {
  const { t } = useTranslation();
  const off = Math.abs(Date.parse(drive.arrive) - Date.parse(v.start)) >= offPlan;
  return (
    <span title={`${t("board.drive", { time: duration(drive.seconds) })}, ${kilometres(drive.metres)}`}>
      {off ? <b>{t("board.expected", { time: time(drive.arrive) })}</b> : t("board.drive", { time: duration(drive.seconds) })}
    </span>
  );
}

function VisitLine({ visit: v, board }: { visit: BoardVisit; board: Board }) {
  const { t } = useTranslation();
  const { now } = board;
  const end = Date.parse(v.start) + v.minutes * 60_000;
  const over = v.promise && v.stage !== "finished" && v.stage !== "withdrawn" && Date.parse(now) > Date.parse(v.promise);
  return (
    <li>
      <Link to={`/office/visits/${v.id}`}>
        <span className="lane-stage">
          <Glyph stage={v.stage} /> {t(`stage.${v.stage}`)} {(v.left || v.reason) && <Why visit={v} board={board} />}
          <span className="quiet">{v.stage !== "planned" && t("board.since", { time: dayOrTime(v.since, now) })}</span>
        </span>
        <span className="lane-site strong">{v.site}</span>
        <span className="lane-problem quiet">{v.problem}</span>
        <span className="lane-times nowrap">
          <span className="quiet">{t("board.planned", { start: time(v.start), end: time(end) })}</span>
          {" · "}
          {v.drive ? (
            <Expected visit={v} drive={v.drive} />
          ) : v.arrived ? (
            t("board.actual", { start: time(v.arrived), end: v.ended ? time(v.ended) : v.left ? time(v.since) : "…" })
          ) : (
            t("board.notArrived")
          )}
        </span>
        <span className="lane-marks">
          {!over && v.drive?.risk && <Tag kind={v.drive.risk === "late" ? "bad" : "warn"}>{t(`board.risk.${v.drive.risk}`)}</Tag>}
          {over && v.promise && <Tag kind="bad">{t("board.late", { time: duration((Date.parse(now) - Date.parse(v.promise)) / 1000) })}</Tag>}
          {v.stage === "finished" && v.outcome && v.outcome !== "complete" && <Tag kind="warn">{t(`outcome.${v.outcome}`)}</Tag>}
          {v.flags > 0 && <Tag kind="warn">{t("review.flags", { count: v.flags })}</Tag>}
        </span>
      </Link>
    </li>
  );
}
