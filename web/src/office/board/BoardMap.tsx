/** A day on the map: routes in their order, people where they were last heard of, and what waits. The list under it says the same. */
import { useTranslation } from "react-i18next";
import { MapView, type Spot, type Way } from "../../map/MapView";
import type { Board, BoardPerson, DayMap } from "../../types";
import { duration, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { keepLast } from "../commands";
import { Answer, useQuestion } from "../queries";
import css from "./BoardMap.module.css";
import { visitOn } from "./stops";
import { useDrafting } from "./usePlanDraft";

interface Props {
  board: Board;
  chosen?: string; // a visit, or work that waits
  person?: string;
  onChoose: (id: string) => void;
  onPerson: (id: string) => void;
}

export function BoardMap({ board, chosen, person, onChoose, onPerson }: Props) {
  const { t } = useTranslation();
  const query = useQuestion("/api/office/daymap", { date: board.date, draft: useDrafting() || undefined }, keepLast);
  const press = (id: string) => {
    const [kind, of] = id.split(" ");
    if (kind === "person") onPerson(of);
    else onChoose(of);
  };
  return (
    <div className={css.map}>
      <Answer query={query}>
        {(map) => (
          <>
            <MapView
              spots={spotsOf(map, board, person, chosen)}
              ways={waysOf(map, person)}
              label={t("boardmap.label")}
              onSpot={press}
              high
              nothing={<p className="empty">{t("boardmap.nothing")}</p>}
            />
            {map.lost > 0 && (
              <p className="small">
                <Tag kind="warn">{t("boardmap.lost", { count: map.lost })}</Tag>
              </p>
            )}
            <Routes board={board} map={map} chosen={chosen} onChoose={onChoose} onPerson={onPerson} />
          </>
        )}
      </Answer>
    </div>
  );
}

/** The first letters of a name. */
const initials = (name: string) =>
  name
    .split(" ")
    .map((w) => w[0])
    .join("");

/** What stands on the map: of somebody who is chosen their own, the rest dimmed. What is left out by filters is not on it. */
function spotsOf(map: DayMap, board: Board, person: string | undefined, chosen: string | undefined): Spot[] {
  const of = (id: string) => board.people.find((p) => p.id === id);
  const stops = map.stops.flatMap((s): Spot[] => {
    const on = visitOn(board, s.visit);
    if (!on) return [];
    const name = `${on.person.short} ${s.number}: ${on.visit.site}, ${time(on.visit.start)}`;
    const dim = s.visit !== chosen && ((person !== undefined && s.person !== person) || on.visit.stage === "finished");
    return [{ id: `visit ${s.visit}`, at: s.at, label: `${initials(on.person.short)}${s.number}`, name, dim }];
  });
  const waits = map.waiting.flatMap((w): Spot[] => {
    const o = board.unplaced.find((x) => x.id === w.order);
    return o
      ? [
          {
            id: `order ${o.id}`,
            at: w.at,
            label: "",
            name: `${o.site}: ${o.problem}`,
            sort: o.priority === "emergency" ? "urgent" : "waits",
            dim: chosen !== undefined && o.id !== chosen,
          },
        ]
      : [];
  });
  const people = map.people.flatMap((p): Spot[] => {
    const who = of(p.person);
    const ago = duration(Math.max(0, Math.round((Date.parse(board.now) - Date.parse(p.when)) / 1000)));
    return who
      ? [
          {
            id: `person ${who.id}`,
            at: p.at,
            label: initials(who.short),
            name: `${who.short}, ${time(p.when)} (${ago})`,
            sort: "person",
            dim: person !== undefined && who.id !== person,
          },
        ]
      : [];
  });
  return [...stops, ...waits, ...people];
}

/** The ways of the day, and around the company's areas thin lines. */
function waysOf(map: DayMap, person: string | undefined): Way[] {
  const ways = map.ways.map((w, i) => ({ id: `${w.person} ${i}`, line: w.line, dim: person !== undefined && w.person !== person, thin: person === undefined }));
  const areas = map.areas.map((a) => ({ id: a.id, line: [...a.line, a.line[0]], thin: true, dim: true }));
  return [...areas, ...ways];
}

interface RoutesProps {
  board: Board;
  map: DayMap;
  chosen?: string;
  onChoose: (id: string) => void;
  onPerson: (id: string) => void;
}

/** The routes as a list, in their order. */
function Routes({ board, map, chosen, onChoose, onPerson }: RoutesProps) {
  const { t } = useTranslation();
  const stopsOf = (p: BoardPerson) => map.stops.filter((s) => s.person === p.id).flatMap((s) => p.visits.find((v) => v.id === s.visit) ?? []);
  return (
    <section className={css.routes} aria-label={t("boardmap.routes")}>
      {board.people
        .filter((p) => p.visits.length > 0)
        .map((p) => {
          const heard = map.people.find((x) => x.person === p.id);
          return (
            <div key={p.id}>
              <button type="button" className="link strong" onClick={() => onPerson(p.id)}>
                {p.short}
              </button>
              {heard && (
                <span className="tiny quiet">
                  {" "}
                  {t("boardmap.heard", { time: time(heard.when), ago: duration(Math.max(0, (Date.parse(board.now) - Date.parse(heard.when)) / 1000)) })}
                </span>
              )}
              <ol>
                {stopsOf(p).map((v) => (
                  <li key={v.id}>
                    <button type="button" className="link small" aria-pressed={v.id === chosen} onClick={() => onChoose(v.id)}>
                      {time(v.drive?.arrive ?? v.arrived ?? v.start)} {v.site}
                    </button>
                  </li>
                ))}
              </ol>
            </div>
          );
        })}
    </section>
  );
}
