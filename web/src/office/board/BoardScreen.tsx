import "./board.css";
import { Button, MenuItem, TextField } from "@mui/material";
import { useMemo } from "react";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { useMay } from "../../session/session";
import type { Board } from "../../types";
import { isDate, isoDate, longDate, momentOf } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Answer, Failure, useBoard, useCommands, useSettings } from "../queries";
import { DayBoard } from "./DayBoard";
import { DraftStrip } from "./DraftStrip";
import { withDraft } from "./drafted";
import { FilterRow } from "./FilterRow";
import { filtered, readFilters, type ShownVisit } from "./filters";
import { zooms } from "./scale";
import { useDrafting, usePlanDraft } from "./usePlanDraft";

const dayLength = 86_400_000;

/** How many hours the board shows when nothing else is asked for. */
const usual = 10;

/** The day by technician: planned against actual, live. */
export function BoardScreen() {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const today = isoDate(Date.now());
  const asked = params.get("date");
  const date = isDate(asked) ? asked : today;
  const drafting = useDrafting();
  const mayPlan = useMay("visit.planned");
  const draft = usePlanDraft();
  const query = useBoard(date, drafting);
  const noon = momentOf(date, "12:00").getTime();
  const put = (change: Record<string, string | undefined>) =>
    setParams(
      (now) => {
        const next = new URLSearchParams(now);
        for (const [k, v] of Object.entries(change)) v === undefined ? next.delete(k) : next.set(k, v);
        return next;
      },
      { replace: true },
    );
  const go = (d: string) => put({ date: d === today ? undefined : d });
  const move = (days: number) => go(isoDate(noon + days * dayLength));
  const filters = readFilters(params);
  const planning = useSettings().data?.planning;
  const key = JSON.stringify(filters);
  // Made once, so that lanes stay as they are while something moves over them.
  const lines = drafting ? draft.lines : undefined;
  const shown = useMemo(() => query.data && withDraft(filtered(query.data, JSON.parse(key), planning), lines), [query.data, key, planning, lines]);
  const zoom = zooms.find((z) => String(z) === params.get("hours")) ?? usual;
  return (
    <main className="board">
      <header className="board-top">
        <h1>{longDate(noon)}</h1>
        <span className="board-days">
          <Button aria-label={t("board.previous")} onClick={() => move(-1)}>
            ‹
          </Button>
          <Button disabled={date === today} onClick={() => go(today)}>
            {t("board.today")}
          </Button>
          <Button aria-label={t("board.next")} onClick={() => move(1)}>
            ›
          </Button>
        </span>
        {mayPlan && !drafting && (
          <Button size="small" onClick={() => put({ draft: "true" })}>
            {t("plandraft.open")}
          </Button>
        )}
        <TextField
          select
          size="small"
          label={t("board.hours")}
          value={zoom}
          onChange={(e) => put({ hours: Number(e.target.value) === usual ? undefined : e.target.value })}
        >
          {zooms.map((z) => (
            <MenuItem key={z} value={z}>
              {t("board.zoom", { count: z })}
            </MenuItem>
          ))}
        </TextField>
        {shown && <Counts board={shown} drafting={drafting} />}
      </header>
      <DraftStrip draft={draft} shown={drafting} onShow={(yes) => put({ draft: yes ? "true" : undefined })} />
      <Answer query={query}>
        {(board) =>
          shown && (
            <>
              <FilterRow board={board} shown={shown} filters={filters} onChange={put} />
              <DayBoard key={shown.date} board={shown} zoom={zoom} />
            </>
          )
        }
      </Answer>
    </main>
  );
}

/** What there is to know of the day at a glance, and what has to be seen to. */
function Counts({ board, drafting }: { board: Board; drafting: boolean }) {
  const { t } = useTranslation();
  const visits = board.people.flatMap((p) => p.visits);
  const flagged = visits.filter((v) => v.flags > 0).length;
  const declined = visits.filter((v) => v.stage === "declined").length;
  const atRisk = visits.filter((v) => v.drive?.risk).length;
  return (
    <>
      <span className="quiet">
        {t("board.summary", { people: board.people.length, visits: visits.length })} ·{" "}
        {t("board.onSite", { count: visits.filter((v) => v.stage === "on_site" || v.stage === "paused").length })} ·{" "}
        {t("board.finished", { count: visits.filter((v) => v.stage === "finished").length })}
      </span>
      <span className="board-alarms">
        {!drafting && <Unsent visits={visits} />}
        {atRisk > 0 && <Tag kind="bad">{t("board.atRisk", { count: atRisk })}</Tag>}
        {declined > 0 && <Tag kind="bad">{t("board.declined", { count: declined })}</Tag>}
        {flagged > 0 && <Tag kind="warn">{t("board.flagged", { count: flagged })}</Tag>}
        {board.unread > 0 && (
          <Link to="/office/review/messages">
            <Tag kind="warn">{t("board.unread", { count: board.unread })}</Tag>
          </Link>
        )}
        {board.held > 0 && (
          <Link to="/office/review/attention">
            <Tag kind="bad">{t("board.held", { count: board.held })}</Tag>
          </Link>
        )}
      </span>
    </>
  );
}

/** Sends the visits of the day that are shown and nobody has been told of yet. */
function Unsent({ visits }: { visits: ShownVisit[] }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const may = useMay("visit.sent");
  const unsent = visits.filter((v) => v.stage === "planned" && !v.faded).slice(0, mostAtOnce);
  if (!may || unsent.length === 0) return null;
  const send = () => commands.mutate(unsent.map((v) => ({ kind: "visit.sent", subject: { type: "visit", id: v.id }, body: {} })));
  return (
    <>
      <Button size="small" variant="outlined" disabled={commands.isPending} onClick={send}>
        {t("board.sendAll", { count: unsent.length })}
      </Button>
      <Failure error={commands.error} />
    </>
  );
}

/** How many visits are sent at a press: what is left is offered again. */
const mostAtOnce = 200;
