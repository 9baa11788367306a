/** Gives what is left of somebody's day to others: what fits best is proposed, and goes into a draft. */
import { Button, Checkbox, FormControlLabel, MenuItem, TextField } from "@mui/material";
import { useMemo } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { useMay } from "../../session/session";
import type { Board, BoardPerson, EntryDraft } from "../../types";
import { Failure, useSettings } from "../queries";
import { handOver } from "./fits";
import { givenEntries, nobodyYet, withoutHelper } from "./giving";
import { Proposals } from "./Proposals";
import type { Scale } from "./scale";
import { movable } from "./stops";
import { useIntoDraft } from "./usePlanDraft";

interface Props {
  person: BoardPerson;
  board: Board;
  scale: Scale;
  onDone: () => void;
}

export function HandOver({ person, board, scale, onDone }: Props) {
  const { t } = useTranslation();
  const into = useIntoDraft();
  const mayOff = useMay("absence.asked");
  const reasons = useSettings().data?.planning.absences ?? [];
  // off is why they are off, when that is to be noted.
  const draft = useDraft(`hand over ${person.id} ${board.date}`, { ...nobodyYet, off: "" });
  const { to, why, off } = draft.value;
  // What began on an earlier day stays.
  const handed = useMemo(
    () => (board.plan ? handOver(person.id, to).filter((h) => person.visits.some((v) => v.id === h.id && movable(v, scale))) : []),
    [board.plan, person, scale, to],
  );
  const changes = [...givenEntries(handed, why, board, scale, into.idOf), ...withoutHelper(person, board)];
  const record = async () => {
    const absent = { from: board.date, to: board.date, why: off };
    const noted: EntryDraft[] = off ? [{ kind: "absence.asked", subject: { type: "absences", id: person.id }, body: absent }] : [];
    await into.put(changes, noted);
    draft.clear();
    onDone();
  };
  return (
    <div className="hand-over">
      <Proposals board={board} scale={scale} handed={handed} giving={draft.value} except={person.id} onChange={draft.change} />
      {mayOff && reasons.length > 0 && (
        <FormControlLabel
          control={<Checkbox checked={off !== ""} onChange={(e) => draft.change({ off: e.target.checked ? (reasons[0]?.id ?? "") : "" })} />}
          label={t("personday.off")}
        />
      )}
      {off && (
        <TextField select size="small" fullWidth label={t("personday.why")} value={off} onChange={(e) => draft.change({ off: e.target.value })}>
          {reasons.map((r) => (
            <MenuItem key={r.id} value={r.id}>
              {r.text}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Failure error={into.error} />
      <Button variant="contained" disabled={into.busy || (changes.length === 0 && !off)} onClick={() => record().catch(() => {})}>
        {t("personday.draft")}
      </Button>
      <p className="tiny quiet">{t("personday.hint")}</p>
    </div>
  );
}
