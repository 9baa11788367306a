/** The same visit on other days: who comes, what goes along and how long stay as they are. */
import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { Board, BoardPerson, BoardVisit, EntryDraft } from "../../types";
import { isDate, isoDate, isTime, moment, momentOf, nextDate, time, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Sure, useSure } from "../../ui/Sure";
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
  const draft = useDraft(`copies of ${v.id}`, { days: [nextDate(first)] });
  const { days } = draft.value;
  const noTime = days.some((d) => isDate(d) && !isTime(d, at));
  const ready = days.length > 0 && days.every(isDate) && new Set(days).size === days.length && !noTime;
  const past = days.find((d) => isDate(d) && momentOf(d, at).getTime() < Date.now() - 60_000);
  const sure = useSure(past && t("plan.past", { time: timeOrDay(momentOf(past, at)) }));
  const copy = () => {
    if (!sure.ask()) return;
    const entries = days.map((d, i): EntryDraft => {
      const body = {
        order: v.order,
        technician: person.id,
        start: moment(momentOf(d, at)),
        minutes: v.minutes,
        helpers: v.helpers,
        things: wantOf(board, v.id)?.things,
      };
      return { kind: "visit.planned", subject: { type: "visit", id: commands.idOf(`copy ${i}`) }, body };
    });
    commands.mutateAsync(entries).then(
      () => {
        draft.clear();
        onDone();
      },
      () => {}, // said below
    );
  };
  return (
    <>
      <MoreDays first={first} days={days} onChange={(to) => draft.change({ days: to })} />
      {noTime && (
        <p role="alert">
          <Tag kind="bad">{t("time.noSuchHour")}</Tag>
        </p>
      )}
      <Sure warning={sure.warning} />
      <Failure error={commands.error} />
      <Button variant="contained" disabled={!ready || commands.isPending} onClick={copy}>
        {t("board.copies", { count: days.length })}
      </Button>
    </>
  );
}
