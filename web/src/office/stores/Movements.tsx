import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { MovementLine } from "../../types";
import { decimal } from "../../ui/decimal";
import { timeOrDay } from "../../ui/format";
import type { Word } from "../../words/i18n";
import { Answer } from "../queries";
import { fileOf, useMovements } from "./queries";

const first = 12;

/** What moved at a place, or of a part: when, how much, who and why; the latest first. */
export function Movements({ place, part }: { place: string; part: string }) {
  const { t } = useTranslation();
  const query = useMovements(place, part);
  const [all, setAll] = useState(false);
  return (
    <section className="movements" aria-label={t("moves.title")}>
      <h3>
        {t("moves.title")}{" "}
        <a className="link small" href={fileOf("movements.csv", { place, part })}>
          CSV
        </a>
      </h3>
      <Answer query={query}>
        {(lines) => (
          <>
            {lines.length === 0 && <p className="quiet small">{t("moves.none")}</p>}
            <ol>
              {lines.slice(0, all ? undefined : first).map((m, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: an entry may move several parts
                <li key={`${m.entry} ${i}`} className={m.struck ? "struck" : undefined}>
                  <Line move={m} named={!part} />
                </li>
              ))}
            </ol>
            {!all && lines.length > first && (
              <button type="button" className="link small" onClick={() => setAll(true)}>
                {t("attention.all", { count: lines.length })}
              </button>
            )}
          </>
        )}
      </Answer>
    </section>
  );
}

function Line({ move: m, named }: { move: MovementLine; named: boolean }) {
  const { t } = useTranslation();
  const differs = m.kind === "count" && m.expected !== undefined && !decimal(m.expected).eq(m.quantity);
  return (
    <>
      <span className="move-time">{timeOrDay(m.at)}</span>
      <b className="num">{m.kind === "count" || m.kind === "reserve" ? m.quantity : decimal(m.quantity).gt(0) ? `+${m.quantity}` : m.quantity}</b>
      <span>
        {named && `${m.partName} · `}
        {t(`moves.${m.kind}` as Word, { other: m.otherName })}
        {m.orderNo && <> {m.visit ? <Link to={`/office/visits/${m.visit}`}>{m.orderNo}</Link> : m.orderNo}</>}
        {differs && ` ${t("moves.expected", { quantity: m.expected })}`}
        <span className="small quiet">
          {" "}
          {m.personName}
          {m.reason && ` · ${m.reason}`}
          {m.serial && ` · ${t("parts.serialNo", { serial: m.serial })}`}
        </span>
      </span>
    </>
  );
}
