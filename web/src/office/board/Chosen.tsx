/** The visit that was chosen on the board, and what can be done with it there. */
import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMay } from "../../session/session";
import type { Board, BoardPerson, BoardVisit, EntryDraft, VisitMove } from "../../types";
import { duration, kilometres, time, timeOrDay } from "../../ui/format";
import { Glyph, Tag } from "../../ui/Glyph";
import { Failure, useCommands } from "../queries";
import type { Scale } from "./scale";
import { movable } from "./stops";
import { wantOn } from "./useAim";
import { useStanding } from "./useStanding";

interface Props {
  visit: BoardVisit;
  person: BoardPerson;
  board: Board;
  scale: Scale;
  onClose: () => void;
}

export function Chosen({ visit: v, person, board, scale, onClose }: Props) {
  const { t } = useTranslation();
  const standing = useStanding(v, board, scale);
  const commands = useCommands();
  const may = useMay("visit.moved");
  const free = may && movable(v);
  const subject = { type: "visit", id: v.id };
  const act = (entry: EntryDraft) => commands.mutate([entry]);
  const end = Date.parse(v.start) + v.minutes * 60_000;
  return (
    <section className="chosen" aria-label={t("board.chosen")}>
      <h2>{v.site}</h2>
      <p>
        <span className="strong block">{v.problem}</span>
        <span className="small block">
          <Glyph stage={v.stage} /> {standing.bad ? <Tag kind="bad">{standing.text}</Tag> : standing.text}
        </span>
        <span className="small quiet block">
          {person.name} · {t("board.planned", { start: time(v.start), end: time(end) })}
        </span>
        {v.drive && (
          <span className="small quiet block">
            {t("board.drive", { time: duration(v.drive.seconds) })}, {kilometres(v.drive.metres)}
          </span>
        )}
        {v.promise && <span className="small quiet block">{t("route.promise", { time: timeOrDay(v.promise) })}</span>}
      </p>
      {free && <Along visit={v} person={person} board={board} onChange={(body) => act({ kind: "visit.moved", subject, body })} />}
      <p className="chosen-acts">
        {free && v.stage === "planned" && (
          <Button variant="contained" disabled={commands.isPending} onClick={() => act({ kind: "visit.sent", subject, body: {} })}>
            {t("board.send")}
          </Button>
        )}
        {free && (
          <Button disabled={commands.isPending} onClick={() => act({ kind: "visit.withdrawn", subject, body: {} })}>
            {t("board.withdraw")}
          </Button>
        )}
        <Link to={`/office/visits/${v.id}`}>{t("board.open")}</Link>
        <button type="button" className="link" onClick={onClose}>
          {t("photos.close")}
        </button>
      </p>
      {free && <p className="tiny quiet">{t("board.moveHint")}</p>}
      <Failure error={commands.error} />
    </section>
  );
}

interface AlongProps {
  visit: BoardVisit;
  person: BoardPerson;
  board: Board;
  onChange: (body: VisitMove) => void;
}

/** Who comes along, and what. */
function Along({ visit: v, person, board, onChange }: AlongProps) {
  const { t } = useTranslation();
  const things = board.plan.lanes.filter((l) => l.thing);
  const booked = wantOn(board, v.id)?.want.things ?? [];
  const now = { technician: person.id, start: v.start, minutes: v.minutes };
  return (
    <>
      <TextField
        select
        size="small"
        label={t("plan.helpers")}
        value={v.helpers ?? []}
        onChange={(e) => onChange({ ...now, helpers: e.target.value as unknown as string[] })}
        slotProps={{ select: { multiple: true } }}
      >
        {board.people
          .filter((p) => p.id !== person.id)
          .map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.name}
            </MenuItem>
          ))}
      </TextField>
      {things.length > 0 && (
        <TextField
          select
          size="small"
          label={t("board.things")}
          value={booked}
          onChange={(e) => onChange({ ...now, things: e.target.value as unknown as string[] })}
          slotProps={{ select: { multiple: true } }}
        >
          {things.map((l) => (
            <MenuItem key={l.id} value={l.id}>
              {l.name}
            </MenuItem>
          ))}
        </TextField>
      )}
    </>
  );
}
