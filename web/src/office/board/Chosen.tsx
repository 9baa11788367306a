/** The visit that was chosen on the board, and what can be done with it there. */
import { Button, Checkbox, FormControlLabel, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMay } from "../../session/session";
import type { Board, BoardPerson, BoardVisit, EntryDraft, VisitMove } from "../../types";
import { duration, kilometres, time, timeOrDay } from "../../ui/format";
import { Glyph, Tag } from "../../ui/Glyph";
import { Failure } from "../queries";
import { CopyVisit } from "./CopyVisit";
import type { ShownVisit } from "./filters";
import { Known } from "./Known";
import { type Scale, secondsOf } from "./scale";
import { movable, wantOf } from "./stops";
import { usePlanCommands } from "./usePlanDraft";
import { useStanding } from "./useStanding";

interface Props {
  visit: BoardVisit;
  person: BoardPerson;
  board: Board;
  scale: Scale;
  /** shows the gap that withdrawing it leaves */
  onGap: (person: string, at: number, without: string) => void;
  onClose: () => void;
}

export function Chosen({ visit: v, person, board, scale, onGap, onClose }: Props) {
  const { t } = useTranslation();
  const standing = useStanding(v, board, scale);
  const commands = usePlanCommands();
  const may = useMay("visit.moved");
  const [copying, setCopying] = useState(false);
  const free = may && movable(v, scale);
  const subject = { type: "visit", id: v.id };
  const act = (entry: EntryDraft) => commands.mutate([entry]);
  const fill = async () => {
    await commands.mutateAsync([{ kind: "visit.withdrawn", subject, body: {} }]);
    onGap(person.id, secondsOf(scale, v.start), v.order);
  };
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
          {v.parts ? ` · ${t("board.partOf", { part: v.part, parts: v.parts })}` : ""}
        </span>
        {v.drive && (
          <span className="small quiet block">
            {t("board.drive", { time: duration(v.drive.seconds) })}, {kilometres(v.drive.metres)}
          </span>
        )}
        {v.known && <Known known={v.known} />}
        {v.promise && <span className="small quiet block">{t("route.promise", { time: timeOrDay(v.promise) })}</span>}
        {v.doneBy && <span className="small quiet block">{t("route.doneBy", { time: timeOrDay(v.doneBy) })}</span>}
      </p>
      {free && !commands.drafting && (
        <FormControlLabel
          control={
            <Checkbox
              checked={v.fixed ?? false}
              disabled={commands.isPending}
              onChange={(e) => act({ kind: "visit.fixed", subject, body: { fixed: e.target.checked } })}
            />
          }
          label={t("board.fixed")}
        />
      )}
      {free && <Along visit={v} person={person} board={board} onChange={(body) => act({ kind: "visit.moved", subject, body })} />}
      <p className="chosen-acts">
        {free && v.stage === "planned" && !commands.drafting && (
          <Button variant="contained" disabled={commands.isPending} onClick={() => act({ kind: "visit.sent", subject, body: {} })}>
            {t("board.send")}
          </Button>
        )}
        {free && (
          <>
            <Button disabled={commands.isPending} onClick={() => act({ kind: "visit.withdrawn", subject, body: {} })}>
              {t("board.withdraw")}
            </Button>
            <Button disabled={commands.isPending} onClick={() => fill().catch(() => {})}>
              {t("board.withdrawFill")}
            </Button>
          </>
        )}
        {may && (
          <button type="button" className="link" aria-expanded={copying} onClick={() => setCopying(!copying)}>
            {t("board.copy")}
          </button>
        )}
        {!(v as ShownVisit).drafted?.plan && <Link to={`/office/visits/${v.id}`}>{t("board.open")}</Link>}
        <button type="button" className="link" onClick={onClose}>
          {t("photos.close")}
        </button>
      </p>
      {copying && <CopyVisit visit={v} person={person} board={board} onDone={() => setCopying(false)} />}
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
  const now = { technician: person.id, start: v.start, minutes: v.minutes };
  return (
    <>
      <Several
        label={t("plan.helpers")}
        chosen={v.helpers ?? none}
        choices={board.people.filter((p) => p.id !== person.id)}
        onChange={(helpers) => onChange({ ...now, helpers })}
      />
      {things.length > 0 && (
        <Several label={t("board.things")} chosen={wantOf(board, v.id)?.things ?? none} choices={things} onChange={(t) => onChange({ ...now, things: t })} />
      )}
    </>
  );
}

const none: string[] = [];

interface SeveralProps {
  label: string;
  chosen: string[];
  choices: { id: string; name: string }[];
  onChange: (ids: string[]) => void;
}

/** Some of several: they are recorded together, once the list is closed. */
function Several({ label, chosen, choices, onChange }: SeveralProps) {
  const [picked, setPicked] = useState<string[]>();
  const close = () => {
    if (picked && picked.toSorted().join() !== chosen.toSorted().join()) onChange(picked);
    setPicked(undefined);
  };
  // Who is chosen and not on the board as it is filtered stays chosen.
  const hidden = (picked ?? chosen).filter((id) => !choices.some((c) => c.id === id));
  return (
    <TextField
      select
      size="small"
      label={label}
      value={picked ?? chosen}
      onChange={(e) => setPicked(e.target.value as unknown as string[])}
      slotProps={{ select: { multiple: true, onClose: close } }}
    >
      {[...choices, ...hidden.map((id) => ({ id, name: id }))].map((c) => (
        <MenuItem key={c.id} value={c.id}>
          {c.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
