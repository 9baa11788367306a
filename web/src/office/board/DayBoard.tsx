/** The day by person: dense, to scale, with what waits beside it. Everything is placed and moved by dragging, or by keys. */
import { useCallback, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { useMay } from "../../session/session";
import type { Board, OrderLine, PlanFit } from "../../types";
import { Tag } from "../../ui/Glyph";
import { planReasons } from "../../ui/planReasons";
import { PlanDrawer } from "../PlanDrawer";
import { Failure } from "../queries";
import { Beside } from "./Beside";
import { BoardMap } from "./BoardMap";
import { Chosen } from "./Chosen";
import { Despite } from "./Despite";
import { FitLine } from "./Fit";
import { useFits } from "./fits";
import { GapBeside } from "./GapBeside";
import { Ghost } from "./Ghost";
import { Lanes } from "./Lanes";
import { PersonBeside } from "./PersonBeside";
import { PutRight } from "./PutRight";
import { SeveralBeside } from "./SeveralBeside";
import { SolvePlan } from "./SolvePlan";
import { along, hour, minute, scaleOf, secondsOf } from "./scale";
import { graveOf, visitOn } from "./stops";
import { ToPlace } from "./ToPlace";
import { type Aim, useAim } from "./useAim";
import { useChoice } from "./useChoice";
import { useDrag } from "./useDrag";
import { useEmpty } from "./useEmpty";
import { useKeys } from "./useKeys";
import { useOpening } from "./useOpening";
import { usePlacing } from "./usePlacing";

/** So many suggestions are made, taken by their numbers. */
const suggestions = 5;
const none: PlanFit[] = [];

export function DayBoard({ board, zoom, map }: { board: Board; zoom: number; map: boolean }) {
  const { t } = useTranslation();
  const may = useMay("visit.planned");
  const scale = useMemo(() => scaleOf(board.date), [board.date]);
  const ask = useFits(board);
  const { chosen, several, beside, choose, look } = useChoice();
  const [form, setForm] = useState<OrderLine>();
  const [whole, setWhole] = useState<"waiting" | "right">(); // all that waits is planned, or the day put right
  const openAll = useCallback(() => setWhole("waiting"), []);
  const openRight = useCallback(() => setWhole("right"), []);
  const shut = () => setWhole(undefined);
  const { aim, fit, fitOf, setAim } = useAim(board, scale, ask);
  const root = useRef<HTMLDivElement>(null);
  const scroller = useRef<HTMLDivElement>(null);
  useOpening(scroller, board, scale, zoom, map);
  const placing = usePlacing(board, scale, fitOf, choose);
  const place = (at: Aim | undefined) => {
    setAim(undefined);
    if (at) placing.place(at);
  };
  const latest = useRef(placing);
  latest.current = placing;
  const takeFit = useCallback((o: OrderLine, f: PlanFit) => latest.current.place({ id: o.id, lane: f.lane, begin: f.begin, length: o.minutes * minute }), []);
  useEmpty(root, map, scale, (person, at) => may && look(person, at));
  const take = useDrag({ board, scale, root, onAim: setAim, onDrop: place });
  const waiting = board.unplaced.find((o) => o.id === chosen);
  const fits = useMemo(() => (waiting && ask ? ask({ id: waiting.id, most: suggestions }) : none), [waiting, ask]);
  useKeys({ board, scale, chosen, aim, fits, may: may && !map, onChoose: choose, onAim: setAim, onPlace: () => place(aim) });
  const on = visitOn(board, chosen);
  const who = board.people.find((p) => p.id === beside?.person);
  const now = secondsOf(scale, board.now);
  return (
    <div className="board-day" onPointerDown={may && !map ? take : undefined}>
      {map ? (
        <BoardMap board={board} chosen={chosen} person={on?.person.id ?? beside?.person} onChoose={choose} onPerson={look} />
      ) : (
        <div className="lanes" ref={scroller} style={{ "--zoom": scale.length / hour / zoom } as React.CSSProperties}>
          <div className="lanes-all" ref={root}>
            <Lanes board={board} scale={scale} chosen={chosen} several={several} onChoose={choose} onPerson={look} />
            <div className="over-lanes" aria-hidden="true">
              {now > 0 && now < scale.length && <span className="lane-now" style={{ left: `${along(scale, now)}%` }} />}
              {!aim &&
                fits.map((f, i) => (
                  <Ghost
                    key={f.lane}
                    aim={{ id: f.lane, lane: f.lane, begin: f.begin, length: (waiting?.minutes ?? 60) * minute }}
                    fit={f}
                    board={board}
                    scale={scale}
                    root={root}
                    number={i + 1}
                  />
                ))}
              <Ghost aim={aim} fit={fit} board={board} scale={scale} root={root} />
            </div>
          </div>
          <p className="small quiet board-foot">
            <a href={`/api/office/day.geojson?date=${board.date}`} download>
              {t("board.geojson")}
            </a>{" "}
            {t("board.geojsonHint")}
          </p>
        </div>
      )}
      <aside className="to-place">
        {several.length > 0 && <SeveralBeside ids={several} board={board} scale={scale} onClose={() => choose(undefined)} />}
        {on && <Chosen key={on.visit.id} visit={on.visit} person={on.person} board={board} scale={scale} onGap={look} onClose={() => choose(undefined)} />}
        {who && beside?.at === undefined && (
          <PersonBeside
            key={who.id}
            person={who}
            board={board}
            scale={scale}
            ready={ask !== undefined}
            onGap={(at) => look(who.id, at)}
            onClose={() => choose(undefined)}
          />
        )}
        {who && beside?.at !== undefined && (
          <GapBeside person={who.id} at={beside.at} without={beside.without} scale={scale} onTaken={choose} onClose={() => choose(undefined)} />
        )}
        {placing.gone && (
          <p role="alert">
            <Tag kind="bad">{t("board.gone")}</Tag>
          </p>
        )}
        <Failure error={placing.doubt ? undefined : placing.error} />
        {whole === "waiting" && <SolvePlan board={board} onClose={shut} />}
        {whole === "right" && ask && <PutRight board={board} scale={scale} onClose={shut} />}
        <Beside board={board} />
        <ToPlace
          board={board}
          scale={scale}
          may={may}
          chosen={chosen}
          several={several}
          fits={fits}
          onChoose={choose}
          onTake={takeFit}
          onForm={setForm}
          onAll={openAll}
          onRight={openRight}
        />
      </aside>
      <p className="visually-hidden" role="status">
        {aim && fit && <FitLine fit={fit} board={board} scale={scale} />}
      </p>
      {placing.doubt && (
        <Despite
          id={placing.doubt.aim.id}
          reasons={planReasons(graveOf(placing.doubt.fit.why), board.skills)}
          pending={placing.pending}
          error={placing.error}
          onInsist={placing.insist}
          onClose={placing.dismiss}
        >
          <FitLine fit={{ ...placing.doubt.fit, why: [] }} board={board} scale={scale} />
        </Despite>
      )}
      {form && <PlanDrawer order={form} date={board.date} onClose={() => setForm(undefined)} />}
    </div>
  );
}
