/** Weeks or a month of the plan, with what is asked for them. */
import { MenuItem, TextField } from "@mui/material";
import { useMemo } from "react";
import { useTranslation } from "react-i18next";
import { FilterRow } from "../board/FilterRow";
import type { Filters } from "../board/filters";
import { useDrafting } from "../board/usePlanDraft";
import { keepLast } from "../commands";
import { Answer, useQuestion, useSettings } from "../queries";
import { MonthBoard } from "./MonthBoard";
import { filteredWeeks, type RowKind, rowKinds } from "./rows";
import { monthOf, weekOf } from "./span";
import { WeekBoard } from "./WeekBoard";

interface Props {
  date: string;
  view: "week" | "weeks" | "month";
  filters: Filters;
  by: RowKind;
  across: boolean;
  onChange: (change: Record<string, string | undefined>) => void;
  onDay: (date: string) => void;
}

export function WeeksView({ date, view, filters, by, across, onChange, onDay }: Props) {
  const { t } = useTranslation();
  const drafting = useDrafting();
  const span = view === "month" ? monthOf(date) : weekOf(date, view === "week" ? 1 : 2);
  const query = useQuestion("/api/office/weeks", { ...span, draft: drafting || undefined }, keepLast);
  const planning = useSettings().data?.planning;
  const shown = useMemo(() => query.data && filteredWeeks(query.data, filters, planning), [query.data, filters, planning]);
  return (
    <Answer query={query}>
      {(weeks) =>
        shown && (
          <>
            <div className="board-filters">
              <FilterRow board={weeks} shown={shown} filters={filters} onChange={onChange} />
              {view !== "month" && (
                <>
                  <TextField
                    select
                    size="small"
                    label={t("weeks.rows")}
                    value={by}
                    onChange={(e) => onChange({ rows: e.target.value === "person" ? undefined : e.target.value })}
                  >
                    {rowKinds.map((k) => (
                      <MenuItem key={k} value={k}>
                        {t(`weeks.by.${k}`)}
                      </MenuItem>
                    ))}
                  </TextField>
                  <TextField
                    select
                    size="small"
                    label={t("weeks.days")}
                    value={across ? "down" : "across"}
                    onChange={(e) => onChange({ across: e.target.value === "down" ? "true" : undefined })}
                  >
                    <MenuItem value="across">{t("weeks.daysAcross")}</MenuItem>
                    <MenuItem value="down">{t("weeks.daysDown")}</MenuItem>
                  </TextField>
                </>
              )}
            </div>
            {view === "month" ? (
              <MonthBoard weeks={shown} month={date.slice(0, 7)} skill={filters.skill} onDay={onDay} />
            ) : (
              <WeekBoard weeks={shown} filters={filters} by={by} across={across} onDay={onDay} />
            )}
          </>
        )
      }
    </Answer>
  );
}
