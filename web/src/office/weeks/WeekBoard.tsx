/** Some days side by side: how full each person's are, and visits to drag between them. */
import { type Announcements, DndContext, DragOverlay, pointerWithin, useDroppable } from "@dnd-kit/core";
import { type ReactNode, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { useMay } from "../../session/session";
import type { Weeks } from "../../types";
import { dayOfMonth, duration, momentOf, shortDate, time, weekday } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { planReasons } from "../../ui/planReasons";
import { Despite } from "../board/Despite";
import type { Filters } from "../board/filters";
import { graveOf } from "../board/stops";
import { Failure, useSettings } from "../queries";
import { Chip } from "./Chip";
import { HeldBox } from "./HeldBox";
import { Load } from "./Load";
import { type Cell, type Chip as ChipOf, type Row, type RowKind, rowsOf, sumOf } from "./rows";
import { cellId, useWeekDrag } from "./useWeekDrag";
import { useWeekKeys } from "./useWeekKeys";
import { WeekBeside } from "./WeekBeside";
import css from "./Weeks.module.css";

interface Props {
  weeks: Weeks; // as they are filtered
  filters: Filters;
  by: RowKind;
  /** people stand side by side, days under each other */
  across: boolean;
  onDay: (date: string) => void;
}

export function WeekBoard({ weeks, filters, by, across, onDay }: Props) {
  const { t } = useTranslation();
  const may = useMay("visit.moved");
  const kinds = useSettings().data?.orders.works ?? none;
  const without = t(`weeks.without.${by === "person" ? "kind" : by}`);
  const rows = useMemo(() => rowsOf(weeks, by, filters, kinds, without), [weeks, by, filters, kinds, without]);
  const [chosen, choose] = useState<ChipOf>();
  const drag = useWeekDrag();
  const people = useMemo(() => (by === "person" ? rows.map((r) => r.id) : [""]), [rows, by]);
  const onKey = useWeekKeys(
    drag,
    people,
    weeks.days.map((d) => d.date),
    across,
  );
  const chip = (row: Row, c: Cell, x: ChipOf) => (
    <Chip
      key={`${x.id} ${x.with ?? ""}`}
      chip={x}
      date={c.date}
      row={row.id}
      named={by !== "person"}
      joined={!across}
      free={may}
      chosen={chosen?.id === x.id}
      onChoose={choose}
      onKey={(e) => onKey(e, { visit: x }, { person: by === "person" ? row.id : "", date: c.date })}
    />
  );
  const cell = (row: Row, c: Cell) => {
    // On top, so that the parts of a piece over several days lie side by side.
    const pieces = across ? none : c.chips.filter((x) => x.before || x.after);
    return (
      <DayCell
        key={`${row.id} ${c.date}`}
        id={cellId({ person: row.id, date: c.date })}
        grouped={by !== "person"}
        today={c.date === today(weeks)}
        over={drag.over?.date === c.date && (drag.over.person || row.id) === row.id}
      >
        {pieces.map((x) => chip(row, c, x))}
        {c.day && <Load day={c.day} />}
        {c.day?.duty?.map((rota) => (
          <span key={rota} className={css.duty}>
            {rota}
          </span>
        ))}
        {c.chips.filter((x) => !pieces.includes(x)).map((x) => chip(row, c, x))}
      </DayCell>
    );
  };
  const skills = weeks.skills;
  return (
    <DndContext
      sensors={drag.sensors}
      collisionDetection={pointerWithin}
      onDragStart={drag.onDragStart}
      onDragOver={drag.onDragOver}
      onDragCancel={drag.onDragCancel}
      onDragEnd={drag.onDragEnd}
      accessibility={{ screenReaderInstructions: { draggable: t("weeks.how") }, announcements: unsaid }}
    >
      <div className={css.weeks}>
        <div className={css.scroll}>
          <table className={css.grid}>
            <thead>
              <tr>
                <th scope="col">{t(`weeks.by.${by}`)}</th>
                {across
                  ? rows.map((r) => (
                      <th key={r.id} scope="col">
                        {r.name}
                      </th>
                    ))
                  : weeks.days.map((d) => <DayHead key={d.date} weeks={weeks} date={d.date} onDay={onDay} />)}
              </tr>
            </thead>
            <tbody>
              {across
                ? weeks.days.map((d, i) => (
                    <tr key={d.date}>
                      <DayHead weeks={weeks} date={d.date} onDay={onDay} row />
                      {rows.map((r) => cell(r, r.cells[i]))}
                    </tr>
                  ))
                : rows.map((r) => (
                    <tr key={r.id}>
                      <th scope="row">{r.name}</th>
                      {r.cells.map((c) => cell(r, c))}
                    </tr>
                  ))}
            </tbody>
          </table>
          {rows.length === 0 && <p className="empty">{t("weeks.nothing")}</p>}
        </div>
        <WeekBeside weeks={weeks} chosen={chosen} may={may} onKey={(e, order) => onKey(e, { order })} onDay={onDay} onClose={() => choose(undefined)}>
          <div role="status">{drag.held && <HeldBox weeks={weeks} drag={drag} />}</div>
          {drag.none && (
            <p role="alert">
              <Tag kind="bad">{t("board.noFit")}</Tag>
            </p>
          )}
          <Failure error={drag.doubt ? undefined : drag.error} />
        </WeekBeside>
      </div>
      <DragOverlay dropAnimation={null} className={css.floating}>
        {drag.held && <HeldBox weeks={weeks} drag={drag} />}
      </DragOverlay>
      {drag.doubt && (
        <Despite
          id={drag.doubt.held.visit?.id ?? drag.doubt.held.order?.id ?? ""}
          reasons={planReasons(graveOf(drag.doubt.found.fit?.why ?? []), skills)}
          pending={drag.pending}
          error={drag.error}
          onInsist={drag.insist}
          onClose={drag.dismiss}
        >
          <b>{weeks.people.find((p) => p.id === drag.doubt?.person)?.short}</b> {shortDate(drag.doubt.found.start ?? 0)} {time(drag.doubt.found.start ?? 0)}
        </Despite>
      )}
    </DndContext>
  );
}

/** A drag is said by the box of what is held. */
const unsaid: Announcements = { onDragStart: () => undefined, onDragOver: () => undefined, onDragEnd: () => undefined, onDragCancel: () => undefined };

const none: never[] = [];
const today = (w: Weeks) => w.now.slice(0, 10);

/** A day with what its people have left, and what is promised by it. */
function DayHead({ weeks, date, row, onDay }: { weeks: Weeks; date: string; row?: boolean; onDay: (date: string) => void }) {
  const { t } = useTranslation();
  const at = weeks.days.findIndex((x) => x.date === date);
  const d = weeks.days[at];
  const sum = sumOf(weeks, at);
  const empty = sum.hours === 0 && sum.work === 0;
  const noon = momentOf(date, "12:00");
  return (
    <th scope={row ? "row" : "col"} className={date === today(weeks) ? css.today : !row && empty ? css.narrow : undefined}>
      <button type="button" className="link" onClick={() => onDay(date)}>
        {weekday(noon)} {dayOfMonth(noon)}
      </button>
      {sum.hours > 0 && date >= today(weeks) && <span className="tiny quiet block">{t("weeks.left", { time: duration(sum.left) })}</span>}
      {d.promised.length > 0 && <span className="tiny block">{t("weeks.promised", { count: d.promised.length })}</span>}
      {d.things.map((x) => (
        <span key={x.name} className="tiny quiet block">
          {x.name} ×{x.visits}
        </span>
      ))}
    </th>
  );
}

/** Where a visit can be dropped: somebody's day, or of other groups the day alone. */
function DayCell({ id, grouped, today, over, children }: { id: string; grouped: boolean; today: boolean; over: boolean; children: ReactNode }) {
  const [row, date] = id.split("|");
  const { setNodeRef } = useDroppable({ id: grouped ? `|${date}|${row}` : id });
  return (
    <td ref={setNodeRef} className={`${today ? css.today : ""}${over ? ` ${css.over}` : ""}`}>
      {children}
    </td>
  );
}
