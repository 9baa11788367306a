/** Beside the weeks: the visit that was chosen, and what needs one, to drag onto a day. */
import { useDraggable } from "@dnd-kit/core";
import type { KeyboardEvent, ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { OrderLine, Weeks } from "../../types";
import { duration, isoDate, shortDate, time, timeOrDay } from "../../ui/format";
import { Glyph, Tag } from "../../ui/Glyph";
import type { Chip } from "./rows";
import css from "./Weeks.module.css";

interface Props {
  weeks: Weeks;
  chosen?: Chip;
  may: boolean;
  onKey: (e: KeyboardEvent, order: OrderLine) => void;
  onDay: (date: string) => void;
  onClose: () => void;
  children: ReactNode; // what is said of a drop
}

export function WeekBeside({ weeks, chosen: v, may, onKey, onDay, onClose, children }: Props) {
  const { t } = useTranslation();
  const waits = weeks.unplaced.length + weeks.more;
  return (
    <aside className="to-place">
      {v && (
        <section className="chosen" aria-label={t("board.chosen")}>
          <h2>{v.site}</h2>
          <p>
            <span className="strong block">{v.problem}</span>
            <span className="small block">
              <Glyph stage={v.stage} /> {t(`stage.${v.stage}`)}
            </span>
            <span className="small quiet block">
              {v.who} · {shortDate(v.start)} {time(v.start)}, {duration(v.minutes * 60)}
            </span>
            {v.promise && <span className="small quiet block">{t("route.promise", { time: timeOrDay(v.promise) })}</span>}
          </p>
          <p className="chosen-acts">
            <Link to={`/office/visits/${v.id}`}>{t("board.open")}</Link>
            <button type="button" className="link" onClick={() => onDay(isoDate(v.start))}>
              {t("weeks.showDay")}
            </button>
            <button type="button" className="link" onClick={onClose}>
              {t("photos.close")}
            </button>
          </p>
        </section>
      )}
      {children}
      {weeks.offered + weeks.left > 0 && (
        <p className="small">
          {[weeks.offered && t("weeks.offered", { count: weeks.offered }), weeks.left && t("board.left", { count: weeks.left })].filter(Boolean).join(" · ")}
          {": "}
          <button type="button" className="link" onClick={() => onDay(isoDate(weeks.now))}>
            {t("weeks.onTheDay")}
          </button>
        </p>
      )}
      <section aria-label={t("board.toPlace")}>
        <h2>
          {t("board.toPlace")} <span className="quiet">{waits}</span>
        </h2>
        <p className="tiny quiet">{waits > 0 ? t(may ? "weeks.toPlaceHint" : "board.toPlaceHint") : t("board.nothingToPlace")}</p>
        <ul>
          {weeks.unplaced.map((o) => (
            <li key={o.id}>
              <Waiting order={o} may={may} now={weeks.now} onKey={onKey} />
            </li>
          ))}
        </ul>
        {weeks.more > 0 && <p className="small">{t("board.more", { count: weeks.more })}</p>}
      </section>
    </aside>
  );
}

function Waiting({ order: o, may, now, onKey }: { order: OrderLine; may: boolean; now: string; onKey: Props["onKey"] }) {
  const { t } = useTranslation();
  const { attributes, listeners, setNodeRef } = useDraggable({ id: `waits ${o.id}`, data: { order: o }, disabled: !may });
  const late = o.promise && Date.parse(o.promise) < Date.parse(now);
  return (
    <button type="button" ref={setNodeRef} className={css.waiting} disabled={!may} {...attributes} {...listeners} onKeyDown={(e) => onKey(e, o)}>
      <span className="strong block">{o.problem}</span>
      <span className="small block">{o.site}</span>
      <span className="small quiet order-marks">
        {o.priority === "emergency" && <Tag kind="bad">{t("priority.emergency")}</Tag>}
        {o.promise && <Tag kind={late ? "bad" : "warn"}>{t(late ? "route.late" : "route.promise", { time: timeOrDay(o.promise) })}</Tag>}
        <span>
          {o.number} · {duration(o.minutes * 60)}
        </span>
      </span>
    </button>
  );
}
