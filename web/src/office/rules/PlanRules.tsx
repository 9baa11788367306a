import { Checkbox, FormControlLabel, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useHas } from "../../session/session";
import type { Elsewhere, Settings } from "../../types";
import { PageHead } from "../../ui/PageHead";
import { AheadField } from "../people/AheadField";
import { Answer, useSettings } from "../queries";
import { KindMarks } from "./KindMarks";
import css from "./RuleLines.module.css";
import { SaveRules } from "./SaveRules";
import { TimetableFields, timetableFine } from "./TimetableFields";
import { useRules } from "./useRules";
import { WeightFields, weightsFine } from "./WeightFields";

/** What technicians see of their plan and how they are told of it, and how kinds of work are marked on the board. */
export default function PlanRules() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <PageHead title={t("planRules.title")} hint={t("planRules.hint")} />
      <Answer query={useSettings()}>{(settings) => <Shown settings={settings} />}</Answer>
    </main>
  );
}

const ways: Elsewhere[] = ["text", "mail"];

function Shown({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const rules = useRules("plan rules", settings);
  const { now, set } = rules;
  const again = now("visits", "again") ?? 0;
  const offers = now("visits", "offers") ?? 0;
  const weights = now("planning", "weights");
  const timetable = now("planning", "timetable");
  return (
    <>
      <section className="sec" aria-label={t("seesAhead.title")}>
        <h2>{t("seesAhead.title")}</h2>
        <div className={css.fields}>
          <AheadField value={now("visits", "ahead") ?? ""} nothing="all" disabled={!may} onChange={(to) => set("visits", "ahead", to || undefined)} />
        </div>
      </section>
      <section className="sec" aria-label={t("rules.again")}>
        <h2>{t("rules.again")}</h2>
        <div className={css.fields}>
          <TextField
            type="number"
            size="small"
            label={t("rules.againMinutes")}
            helperText={t("rules.againHint")}
            value={again || ""}
            placeholder="0"
            disabled={!may}
            onChange={(e) => set("visits", "again", Math.round(Number(e.target.value)) || undefined)}
            slotProps={{ htmlInput: { min: 0, max: 10080 }, inputLabel: { shrink: true } }}
          />
          <TextField
            type="number"
            size="small"
            label={t("rules.offers")}
            helperText={t("rules.offersHint")}
            value={offers || ""}
            placeholder="0"
            disabled={!may}
            onChange={(e) => set("visits", "offers", Math.round(Number(e.target.value)) || undefined)}
            slotProps={{ htmlInput: { min: 0, max: 10080 }, inputLabel: { shrink: true } }}
          />
          <TextField
            select
            size="small"
            label={t("planRules.elsewhere")}
            helperText={t("planRules.elsewhereHint")}
            value={now("visits", "elsewhere") ?? ""}
            disabled={!may}
            onChange={(e) => set("visits", "elsewhere", (e.target.value as Elsewhere) || undefined)}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          >
            <MenuItem value="">{t("planRules.notElsewhere")}</MenuItem>
            {ways.map((w) => (
              <MenuItem key={w} value={w}>
                {t(`planRules.by.${w}`)}
              </MenuItem>
            ))}
          </TextField>
          <div>
            <FormControlLabel
              disabled={!may}
              control={<Checkbox checked={now("visits", "nearby") ?? false} onChange={(e) => set("visits", "nearby", e.target.checked || undefined)} />}
              label={t("rules.nearby")}
            />
            <p className="small quiet">{t("rules.nearbyHint")}</p>
          </div>
        </div>
      </section>
      <KindMarks
        kinds={settings.orders.works ?? []}
        marks={now("planning", "marks") ?? []}
        may={may}
        onChange={(marks) => set("planning", "marks", marks.length > 0 ? marks : undefined)}
      />
      <WeightFields weights={weights} disabled={!may} onChange={(to) => set("planning", "weights", to)} />
      <TimetableFields timetable={timetable} disabled={!may} onChange={(to) => set("planning", "timetable", to)} />
      <SaveRules rules={rules} wrong={!weightsFine(weights) || !timetableFine(timetable) || [again, offers].some((n) => n < 0 || n > 10080)} />
    </>
  );
}
