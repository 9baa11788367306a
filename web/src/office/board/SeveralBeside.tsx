/** Several visits and work orders that were chosen: given to somebody, moved to another day, sent or withdrawn together. */
import { Button } from "@mui/material";
import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { DateField } from "../../form/dates";
import { useMay } from "../../session/session";
import type { Board, EntryDraft } from "../../types";
import { isDate, moment, momentOf, time } from "../../ui/format";
import { Failure } from "../queries";
import { give } from "./fits";
import { givenEntries } from "./giving";
import { Proposals } from "./Proposals";
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
  const [to, setTo] = useState("");
  const [day, setDay] = useState("");
  const free = ids.flatMap((id) => {
    const on = visitOn(board, id);
    return on && movable(on.visit, scale) ? [on] : [];
  });
  const handed = useMemo(() => (board.plan ? give(ids, to) : []), [board.plan, ids, to]);
  const given = givenEntries(handed, board, scale, commands.idOf);
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
  const record = (entries: EntryDraft[]) => commands.mutateAsync(entries).then(onClose, () => {}); // said below
  const sent = of("visit.sent");
  return (
    <section className="chosen" aria-label={t("several.title")}>
      <h2>{t("several.count", { count: ids.length })}</h2>
      {may && (
        <div className="hand-over">
          <Proposals board={board} scale={scale} handed={handed} to={to} onTo={setTo} />
          <Button variant="contained" disabled={commands.isPending || given.length === 0} onClick={() => record(given)}>
            {t("several.give", { count: given.length })}
          </Button>
          {free.length > 0 && (
            <>
              <DateField label={t("several.day")} value={day} onChange={setDay} />
              <Button disabled={commands.isPending || !isDate(day)} onClick={() => record(elsewhere)}>
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
