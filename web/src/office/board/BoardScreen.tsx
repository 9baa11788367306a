import "./board.css";
import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { useMay } from "../../session/session";
import { isDate, isoDate, longDate, momentOf, monthName, shortDate } from "../../ui/format";
import { rowKinds } from "../weeks/rows";
import { daysOn, monthsOn, weekOf } from "../weeks/span";
import { WeeksView } from "../weeks/WeeksView";
import { DayCounts } from "./DayCounts";
import { DayView } from "./DayView";
import { DraftStrip } from "./DraftStrip";
import { readFilters } from "./filters";
import { zooms } from "./scale";
import { useDrafting, usePlanDraft } from "./usePlanDraft";

/** How many hours the board shows when nothing else is asked for. */
const usual = 10;

const views = ["day", "map", "week", "weeks", "month"] as const;
type View = (typeof views)[number];

/** The plan: a day by technician, live, as lanes or on a map, or weeks and months of it. What is shown is in its address. */
export function BoardScreen() {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const today = isoDate(Date.now());
  const asked = params.get("date");
  const date = isDate(asked) ? asked : today;
  const view = views.find((v) => v === params.get("view")) ?? "day";
  const drafting = useDrafting();
  const mayPlan = useMay("visit.planned");
  const draft = usePlanDraft();
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
  const showDay = (d: string) => put({ date: d === today ? undefined : d, view: undefined });
  const move = (n: number) => go(view === "month" ? monthsOn(date, n) : daysOn(date, n * { day: 1, map: 1, week: 7, weeks: 14 }[view]));
  const filters = readFilters(params);
  const zoom = zooms.find((z) => String(z) === params.get("hours")) ?? usual;
  const byDay = view === "day" || view === "map";
  return (
    <main className="board">
      <header className="board-top">
        <h1>{titleOf(date, view)}</h1>
        <span className="board-days">
          <Button aria-label={t(`board.previous.${view}`)} onClick={() => move(-1)}>
            ‹
          </Button>
          <Button disabled={date === today} onClick={() => go(today)}>
            {t("board.today")}
          </Button>
          <Button aria-label={t(`board.next.${view}`)} onClick={() => move(1)}>
            ›
          </Button>
        </span>
        <TextField
          select
          size="small"
          label={t("board.view")}
          value={view}
          onChange={(e) => put({ view: e.target.value === "day" ? undefined : e.target.value })}
        >
          {views.map((v) => (
            <MenuItem key={v} value={v}>
              {t(`board.view.${v}`)}
            </MenuItem>
          ))}
        </TextField>
        {view === "day" && (
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
        )}
        {mayPlan && !drafting && (
          <Button size="small" onClick={() => put({ draft: "true" })}>
            {t("plandraft.open")}
          </Button>
        )}
        {byDay && <DayCounts date={date} drafting={drafting} />}
      </header>
      <DraftStrip draft={draft} shown={drafting} onShow={(yes) => put({ draft: yes ? "true" : undefined })} />
      {byDay ? (
        <DayView date={date} map={view === "map"} zoom={zoom} filters={filters} lines={drafting ? draft.lines : undefined} onChange={put} />
      ) : (
        <WeeksView
          date={date}
          view={view}
          filters={filters}
          by={rowKinds.find((r) => r === params.get("rows")) ?? "person"}
          across={params.get("across") === "true"}
          onChange={put}
          onDay={showDay}
        />
      )}
    </main>
  );
}

function titleOf(date: string, view: View): string {
  const noon = (d: string) => momentOf(d, "12:00");
  if (view === "month") return monthName(noon(date));
  if (view === "day" || view === "map") return longDate(noon(date));
  const { from, days } = weekOf(date, view === "week" ? 1 : 2);
  return `${shortDate(noon(from))} – ${shortDate(noon(daysOn(from, days - 1)))}`;
}
