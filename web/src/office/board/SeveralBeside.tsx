/** Several visits and work orders that were chosen: given to somebody, moved to another day, sent or withdrawn together. */
import { Button } from "@mui/material";
import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { DateField } from "../../form/dates";
import { useMay } from "../../session/session";
import type { Board, EntryDraft } from "../../types";
import { isDate, isTime, moment, momentOf, time, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Sure, useSure } from "../../ui/Sure";
import { Failure } from "../queries";
import { give } from "./fits";
import { givenEntries, nobodyYet } from "./giving";
import { Proposals } from "./Proposals";
import { SolvePlan } from "./SolvePlan";
import type { Scale } from "./scale";
import { movable, visitOn } from "./stops";
import { usePlanCommands } from "./usePlanDraft";

interface Props {
  ids: string[];
  board: Board;
  scale: Scale;
  onClose: () => void;
}

export function SeveralBeside({ ids, board, scale, onClose }: Props) {
  const { t } = useTranslation();
  const commands = usePlanCommands();
  const may = useMay("visit.moved");
  const draft = useDraft(`several of ${board.date}`, { ...nobodyYet, day: "" });
  const { to, why, day } = draft.value;
  const free = ids.flatMap((id) => {
    const on = visitOn(board, id);
    return on && movable(on.visit, scale) ? [on] : [];
  });
  const handed = useMemo(() => (board.plan ? give(ids, to) : []), [board.plan, ids, to]);
  const given = givenEntries(handed, why, board, scale, commands.idOf);
  const of = (kind: "visit.sent" | "visit.withdrawn") =>
    free
      .filter((on) => kind !== "visit.sent" || on.visit.stage === "planned")
      .map((on): EntryDraft => ({ kind, subject: { type: "visit", id: on.visit.id }, body: {} }));
  const elsewhere = free.map(
    ({ visit: v, person }): EntryDraft => ({
      kind: "visit.moved",
      subject: { type: "visit", id: v.id },
      body: { technician: person.id, start: isDate(day) ? moment(momentOf(day, time(v.start))) : v.start, minutes: v.minutes },
    }),
  );
  const record = (entries: EntryDraft[]) =>
    commands.mutateAsync(entries).then(
      () => {
        draft.clear();
        onClose();
      },
      () => {},
    ); // said below
  const noTime = isDate(day) && free.some((on) => !isTime(day, time(on.visit.start)));
  const past = isDate(day) && free.find((on) => momentOf(day, time(on.visit.start)).getTime() < Date.now() - 60_000);
  const sure = useSure(past ? t("plan.past", { time: timeOrDay(momentOf(day, time(past.visit.start))) }) : undefined);
  const sent = of("visit.sent");
  const [solving, setSolving] = useState(false);
  if (solving) return <SolvePlan board={board} chosen={ids} onClose={() => setSolving(false)} />;
  return (
    <section className="chosen" aria-label={t("several.title")}>
      <h2>{t("several.count", { count: ids.length })}</h2>
      {may && (
        <div className="hand-over">
          <Proposals board={board} scale={scale} handed={handed} giving={draft.value} onChange={draft.change} />
          <Button variant="contained" disabled={commands.isPending || given.length === 0} onClick={() => record(given)}>
            {t("several.give", { count: given.length })}
          </Button>
          <Button onClick={() => setSolving(true)}>{t("several.solve")}</Button>
          {free.length > 0 && (
            <>
              <DateField label={t("several.day")} value={day} onChange={(to) => draft.change({ day: to })} />
              {noTime && (
                <p role="alert">
                  <Tag kind="bad">{t("time.noSuchHour")}</Tag>
                </p>
              )}
              <Sure warning={sure.warning} />
              <Button disabled={commands.isPending || !isDate(day) || noTime} onClick={() => sure.ask() && record(elsewhere)}>
                {t("several.move", { count: free.length })}
              </Button>
              {sent.length > 0 && !commands.drafting && (
                <Button disabled={commands.isPending} onClick={() => record(sent)}>
                  {t("several.send", { count: sent.length })}
                </Button>
              )}
              <Button disabled={commands.isPending} onClick={() => record(of("visit.withdrawn"))}>
                {t("several.withdraw", { count: free.length })}
              </Button>
            </>
          )}
        </div>
      )}
      <Failure error={commands.error} />
      <button type="button" className="link" onClick={onClose}>
        {t("photos.close")}
      </button>
    </section>
  );
}
