import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { OrderPage, VisitView } from "../../types";
import { duration, shortDate, time } from "../../ui/format";
import { Glyph, Mark, Tag } from "../../ui/Glyph";
import css from "./Order.module.css";

/** The order's way: opened, each visit with how it ended, what it waits for, and where it stands. */
export function VisitRail({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  const { order, visits, names } = page;
  const waiting = page.requests.filter((r) => ["asked", "approved", "ordered"].includes(r.request.state));
  return (
    <ol className={css.rail} aria-label={t("orderPage.rail")}>
      <li className={css.passed}>
        <span className={css.mark}>
          <Mark kind="good" />
        </span>
        <b>{t("orderPage.openedShort")}</b> {shortDate(order.openedAt)}
        <span className="small quiet block">{names[order.openedBy] ?? order.openedBy}</span>
      </li>
      {visits.map((v, i) => (
        <VisitStop key={v.id} view={v} n={i + 1} names={names} phoned={page.phoned[v.id]} />
      ))}
      {waiting.length > 0 && (
        <li>
          <span className={css.mark}>
            <Mark kind="wait" />
          </span>
          <b>{t("orderPage.waits", { count: waiting.length })}</b>
          <span className="small quiet block">{waiting.map((r) => r.partName ?? r.request.text).join(", ")}</span>
        </li>
      )}
      {["open", "back"].includes(page.state) && (
        <li>
          <span className={css.mark}>
            <Glyph stage="planned" />
          </span>
          <b>{t(`orderState.${page.state}`)}</b>
          <span className="small quiet block">{page.line.note}</span>
        </li>
      )}
      {["closed", "cancelled", "on_hold"].includes(page.state) && (
        <li className={css.passed}>
          <span className={css.mark}>
            <Mark kind={page.state === "closed" ? "good" : "wait"} />
          </span>
          <b>{t(`orderState.${page.state}`)}</b>
          <span className="small quiet block">{order.acts?.at(-1)?.reason}</span>
        </li>
      )}
    </ol>
  );
}

function VisitStop({ view, n, names, phoned }: { view: VisitView; n: number; names: Record<string, string>; phoned?: string[] }) {
  const { t } = useTranslation();
  const { visit } = view;
  const over = ["finished", "withdrawn"].includes(visit.stage);
  const worked = view.hours.work + view.hours.travel + view.hours.wait;
  return (
    <li className={over ? css.passed : undefined}>
      <span className={css.mark}>
        <Glyph stage={view.standing.stage} />
      </span>
      <Link to={`/office/visits/${view.id}`}>
        <b>{t("orderPage.visit", { n })}</b> {shortDate(visit.start)} {time(visit.start)}
      </Link>
      <span className="small quiet block">
        {visit.technician ? (names[visit.technician] ?? visit.technician) : t("plan.offeredTo", { names: visit.offered?.map((p) => names[p]).join(", ") })}
        {" · "}
        {t(`stage.${view.standing.stage}`)}
        {worked > 0 && ` · ${duration(worked)}`}
      </span>
      {phoned && <span className="small quiet block">{t("phoned.by", { names: phoned.join(", ") })}</span>}
      {visit.outcome && (
        <span className="small block">
          {visit.outcome === "complete" ? <Tag kind="good">{t(`outcome.${visit.outcome}`)}</Tag> : <Tag kind="warn">{t(`outcome.${visit.outcome}`)}</Tag>}
        </span>
      )}
    </li>
  );
}
