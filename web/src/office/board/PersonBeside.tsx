/** Somebody's day, beside the board: what is free of it, and handing it over to others. */
import { Button } from "@mui/material";
import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMay } from "../../session/session";
import type { Board, BoardPerson } from "../../types";
import { duration, time } from "../../ui/format";
import { gapsOf } from "./fits";
import { HandOver } from "./HandOver";
import { SendDay } from "./SendDay";
import { momentAt, type Scale } from "./scale";
import { loadOf } from "./stops";

interface Props {
  person: BoardPerson;
  board: Board;
  scale: Scale;
  /** whether fits can be asked for */
  ready: boolean;
  onGap: (at: number) => void;
  onClose: () => void;
}

export function PersonBeside({ person, board, scale, ready, onGap, onClose }: Props) {
  const { t } = useTranslation();
  const [handing, setHanding] = useState(false);
  const [sending, setSending] = useState(false);
  const maySend = useMay("visit.sent");
  // Asked anew when the day is another one.
  const gaps = useMemo(() => (ready && board.plan ? gapsOf(person.id) : []), [ready, board.plan, person.id]);
  const { work, hours } = loadOf(person);
  const left = person.visits.some((v) => ["planned", "sent", "accepted", "declined"].includes(v.stage)) || (person.helps ?? []).length > 0;
  return (
    <section className="chosen" aria-label={t("personday.title")}>
      <h2>{person.name}</h2>
      <p className="small quiet">{hours > 0 ? t("board.load", { work: duration(work), hours: duration(hours) }) : duration(work)}</p>
      {person.duty?.map((d) => (
        <p key={d.begin} className="small">
          {t("board.duty", { rota: d.rota, from: time(d.begin), to: time(d.end) })}
        </p>
      ))}
      {gaps.length > 0 && (
        <>
          <h3 className="small">{t("personday.gaps")}</h3>
          <ul className="gaps">
            {gaps.map((g) => (
              <li key={g.from}>
                <button type="button" className="link" onClick={() => onGap(g.from)}>
                  {t("personday.gap", { from: time(momentAt(scale, g.from)), to: time(momentAt(scale, g.to)) })}
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="chosen-acts">
        {!board.plan.past && left && (
          <Button aria-expanded={handing} onClick={() => setHanding(!handing)}>
            {t("personday.handOver")}
          </Button>
        )}
        <a href={`/api/office/days/${person.id}/paper.pdf?date=${board.date}`} target="_blank" rel="noreferrer">
          {t("personday.print")}
        </a>
        {maySend && (
          <button type="button" className="link" aria-expanded={sending} onClick={() => setSending(!sending)}>
            {t("sendday.open")}
          </button>
        )}
        <Link to={`/office/people/${person.id}`}>{t("personday.page")}</Link>
        <button type="button" className="link" onClick={onClose}>
          {t("photos.close")}
        </button>
      </p>
      {sending && <SendDay person={person} date={board.date} />}
      {handing && <HandOver person={person} board={board} scale={scale} onDone={onClose} />}
    </section>
  );
}
