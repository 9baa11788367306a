import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMay } from "../../session/session";
import type { DueLine } from "../../types";
import { dayText } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { MoveDue } from "./MoveDue";
import { windowWords } from "./rule";
import css from "./Upkeep.module.css";

interface Props {
  lines: DueLine[];
  today: string;
  /** of one plan: what it is of goes without saying */
  ofPlan?: boolean;
  /** at one site or on one machine: where goes without saying */
  here?: boolean;
}

/** What falls due, with the work orders that were opened for it. */
export function DueLines({ lines, today, ofPlan, here }: Props) {
  const { t } = useTranslation();
  const may = useMay("upkeep.moved");
  const [moving, setMoving] = useState<DueLine>();
  return (
    <>
      <table className={`table ${css.due}`}>
        <thead>
          <tr>
            <th>{t("upkeep.when")}</th>
            {!(ofPlan && here) && <th>{t("upkeep.what")}</th>}
            {!here && <th>{t("upkeep.where")}</th>}
            <th>{t("upkeep.order")}</th>
            {may && (
              <th>
                <span className="visually-hidden">{t("upkeep.move")}</span>
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {lines.map((l) => (
            <tr key={`${l.plan} ${l.target} ${l.key}`} className={l.skipped ? "quiet" : undefined}>
              <td>
                <span className={l.skipped ? "nowrap" : "strong nowrap"}>{dayText(l.on)}</span>
                {l.from < l.to && !l.skipped && <span className="small quiet block nowrap">{windowWords(l.from, l.to)}</span>}
                <Remarks line={l} />
              </td>
              {!(ofPlan && here) && (
                <td>
                  {l.name ? <Link to={`/office/records/asset/${l.asset}`}>{l.name}</Link> : t("upkeep.wholeSite")}
                  {!ofPlan && (
                    <span className="small quiet block">
                      <Link to={`/office/upkeep/${l.plan}`}>{l.planName}</Link>
                    </span>
                  )}
                </td>
              )}
              {!here && (
                <td>
                  <Link to={`/office/records/site/${l.site}`}>{l.siteName}</Link>
                  <span className="small quiet block">{l.whose}</span>
                </td>
              )}
              <td>
                <Opened line={l} today={today} />
              </td>
              {may && (
                <td className="end">
                  {!l.order && !l.later && (
                    <button
                      type="button"
                      className="link small nowrap"
                      onClick={() => setMoving(l)}
                      aria-label={`${t("upkeep.move")}: ${l.name || l.siteName}`}
                    >
                      {t("upkeep.move")}
                    </button>
                  )}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {moving && <MoveDue line={moving} onClose={() => setMoving(undefined)} />}
    </>
  );
}

function Remarks({ line: l }: { line: DueLine }) {
  const { t } = useTranslation();
  const words = [
    l.skipped && t("upkeep.skipped"),
    !l.skipped && l.on !== l.due && t("upkeep.moved", { day: dayText(l.due) }),
    l.guessed && t("upkeep.guessed"),
    l.first !== l.key && /^\d{4}-/.test(l.first) && t("upkeep.missed", { day: dayText(l.first) }),
  ].filter(Boolean);
  return (
    <>
      {l.overdue && (
        <span className="block">
          <Tag kind="bad">{t("upkeep.overdue")}</Tag>
        </span>
      )}
      {words.length > 0 && <span className="small quiet block">{words.join(" · ")}</span>}
    </>
  );
}

function Opened({ line: l, today }: { line: DueLine; today: string }) {
  const { t } = useTranslation();
  if (l.order)
    return (
      <>
        <Link to={`/office/orders/${l.order}`}>{l.number}</Link> <span className="small">{l.state && t(`orderState.${l.state}`)}</span>
      </>
    );
  if (l.skipped) return null;
  if (l.later) return <span className="small quiet">{t("upkeep.later")}</span>;
  return <span className="small quiet">{l.opens <= today ? t("upkeep.opensNow") : t("upkeep.opens", { day: dayText(l.opens) })}</span>;
}
