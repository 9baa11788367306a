import { memo } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Board } from "../../types";
import { shortDate, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { reasonText } from "../../ui/reasons";
import { useSettings } from "../queries";
import { CallsForWork } from "./CallsForWork";

/** Visits that were left open, and offers. They are not drawn anew while something is dragged. */
export const Beside = memo(function Beside({ board }: { board: Board }) {
  return (
    <>
      <LeftBehind board={board} />
      <CallsForWork />
      <Offers board={board} />
    </>
  );
});

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
