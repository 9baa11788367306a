/** What needs a visit: most pressing first. What is chosen shows where it fits best. */
import { memo } from "react";
import { useTranslation } from "react-i18next";
import type { Board, OrderLine, PlanFit } from "../../types";
import { FoundBy } from "../../ui/FoundBy";
import { dayText, duration, isoDate, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Before } from "../Before";
import { windowWords } from "../upkeep/rule";
import { FitLine } from "./Fit";
import type { Scale } from "./scale";

interface Props {
  board: Board;
  scale: Scale;
  may: boolean;
  chosen?: string;
  several: string[];
  fits: PlanFit[];
  onChoose: (id: string | undefined, more?: boolean) => void;
  onTake: (order: OrderLine, fit: PlanFit) => void;
  onForm: (order: OrderLine) => void;
  onAll: () => void; // has all of it planned
  onRight: () => void; // has the day put right
}

/** It is not drawn anew while something is dragged. */
export const ToPlace = memo(function ToPlace({ board, scale, may, chosen, several, fits, onChoose, onTake, onForm, onAll, onRight }: Props) {
  const { t } = useTranslation();
  return (
    <section aria-label={t("board.toPlace")}>
      <h2>
        {t("board.toPlace")} <span className="quiet">{board.unplaced.length + board.more}</span>
      </h2>
      <p className="tiny quiet">{board.unplaced.length > 0 ? t(may ? "board.toPlaceKeys" : "board.toPlaceHint") : t("board.nothingToPlace")}</p>
      {may && !board.plan.past && (
        <p className="small">
          {board.unplaced.length > 0 && (
            <button type="button" className="link" onClick={onAll}>
              {t("solution.open")}
            </button>
          )}{" "}
          <button type="button" className="link" onClick={onRight}>
            {t("repair.open")}
          </button>
        </p>
      )}
      <ul>
        {board.unplaced.map((o) => (
          <li key={o.id} className={o.id === chosen || several.includes(o.id) ? "is-chosen" : undefined}>
            <button
              type="button"
              disabled={!may}
              aria-expanded={o.id === chosen}
              data-take={may ? o.id : undefined}
              onClick={(e) => (e.shiftKey || e.ctrlKey || e.metaKey ? onChoose(o.id, true) : onChoose(o.id === chosen ? undefined : o.id))}
            >
              <span className="strong block">{o.problem}</span>
              <span className="small block">{o.site}</span>
              <OrderMarks order={o} board={board} />
            </button>
            {o.id === chosen && (
              <>
                <Before order={o} />
                <ol className="fits">
                  {fits.map((f, i) => (
                    <li key={f.lane}>
                      <button type="button" onClick={() => onTake(o, f)}>
                        <span className="fit-number">{i + 1}</span> <FitLine fit={f} board={board} scale={scale} />
                      </button>
                    </li>
                  ))}
                </ol>
                {fits.length === 0 && <p className="small">{t(board.plan.past ? "board.over" : "board.noFit")}</p>}
                <button type="button" className="link small" onClick={() => onForm(o)}>
                  {t("board.byForm")}
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
      {board.more > 0 && <p className="small">{t("board.more", { count: board.more })}</p>}
    </section>
  );
});

function OrderMarks({ order, board }: { order: OrderLine; board: Board }) {
  const { t } = useTranslation();
  const late = order.promise && Date.parse(order.promise) < Date.parse(board.now);
  const things = (order.things ?? []).map((id) => board.plan.lanes.find((l) => l.id === id)?.name ?? id);
  const skills = order.skills?.map((id) => board.skills.find((s) => s.id === id)?.text ?? id) ?? [];
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
      {order.doneBy && (
        <Tag kind={Date.parse(order.doneBy) < Date.parse(board.now) ? "bad" : "warn"}>{t("route.doneBy", { time: timeOrDay(order.doneBy) })}</Tag>
      )}
      {order.dueBy && !order.promise && (
        <Tag kind={order.dueBy < isoDate(board.now) ? "bad" : "warn"}>
          {order.dueBy < isoDate(board.now)
            ? t("board.overdue", { day: dayText(order.dueBy) })
            : t("board.due", { window: windowWords(order.dueFrom ?? order.dueBy, order.dueBy) })}
        </Tag>
      )}
      <span>
        {[order.number, duration(order.minutes * 60), order.crew && t("board.crew", { count: order.crew }), ...things, ...skills].filter(Boolean).join(" · ")}
      </span>
    </span>
  );
}
