/** The same visit on other days: who comes, what goes along and how long stay as they are. */
import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Board, BoardPerson, BoardVisit, EntryDraft } from "../../types";
import { isDate, isoDate, isTime, moment, momentOf, nextDate, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { MoreDays } from "../MoreDays";
import { Failure } from "../queries";
import { wantOf } from "./stops";
import { usePlanCommands } from "./usePlanDraft";

interface Props {
  visit: BoardVisit;
  person: BoardPerson;
  board: Board;
  onDone: () => void;
}

export function CopyVisit({ visit: v, person, board, onDone }: Props) {
  const { t } = useTranslation();
  const commands = usePlanCommands();
  const first = isoDate(Date.parse(v.start));
  const at = time(v.start);
  const [days, setDays] = useState([nextDate(first)]);
  const noTime = days.some((d) => isDate(d) && !isTime(d, at));
  const ready = days.length > 0 && days.every(isDate) && new Set(days).size === days.length && !noTime;
  const copy = () => {
    const entries = days.map((d): EntryDraft => {
      const body = {
        order: v.order,
        technician: person.id,
        start: moment(momentOf(d, at)),
        minutes: v.minutes,
        helpers: v.helpers,
        things: wantOf(board, v.id)?.things,
      };
      return { kind: "visit.planned", subject: { type: "visit", id: commands.idOf(`${v.id} on ${d}`) }, body };
    });
    commands.mutateAsync(entries).then(onDone, () => {}); // said below
  };
  return (
    <>
      <MoreDays first={first} days={days} onChange={setDays} />
      {noTime && (
        <p role="alert">
          <Tag kind="bad">{t("time.noSuchHour")}</Tag>
        </p>
      )}
      <Failure error={commands.error} />
      <Button variant="contained" disabled={!ready || commands.isPending} onClick={copy}>
        {t("board.copies", { count: days.length })}
      </Button>
    </>
  );
}
