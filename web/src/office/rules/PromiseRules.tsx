import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { TimeField } from "../../form/dates";
import { useHas } from "../../session/session";
import type { Choice, Priority, PromiseRule, Settings } from "../../types";
import { PageHead } from "../../ui/PageHead";
import { Answer, useSettings } from "../queries";
import css from "./RuleLines.module.css";
import { SaveRules } from "./SaveRules";
import { useRules } from "./useRules";

/** By when work is promised when it comes in. */
export default function PromiseRules() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <PageHead title={t("promiseRules.title")} hint={t("promiseRules.hint")} />
      <Answer query={useSettings()}>{(settings) => <Shown settings={settings} />}</Answer>
    </main>
  );
}

/** Whether a rule of promises is one. */
export const promiseFine = (r: PromiseRule) =>
  ((r.hours ?? 0) > 0 && (r.hours ?? 0) <= 1440) || (!r.hours && /^\d\d:\d\d$/.test(r.until ?? "") && (r.days ?? 0) <= 400);

function Shown({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const kept = useRules("rules of promises", settings);
  const rules = kept.now("orders", "promises") ?? [];
  const set = (to: PromiseRule[]) => kept.set("orders", "promises", to);
  return (
    <section className="sec">
      {rules.map((r, i) => (
        <PromiseLine
          // biome-ignore lint/suspicious/noArrayIndexKey: lines have nothing else that tells them apart
          key={i}
          rule={r}
          works={settings.orders.works ?? []}
          may={may}
          onChange={(to) => set(to ? rules.with(i, to) : rules.toSpliced(i, 1))}
        />
      ))}
      {rules.length === 0 && <p className="quiet">{t("promiseRules.none")}</p>}
      {may && <Button onClick={() => set([...rules, { priority: "emergency", hours: 4 }])}>{t("promiseRules.add")}</Button>}
      <SaveRules rules={kept} wrong={!rules.every(promiseFine)} />
    </section>
  );
}

const priorities: Priority[] = ["emergency", "soon", "normal"];

interface RuleProps {
  rule: PromiseRule;
  works: Choice[];
  may: boolean;
  /** with nothing: it goes */
  onChange: (to?: PromiseRule) => void;
}

/** A rule of promises: by when what is promised. */
export function PromiseLine({ rule: r, works, may, onChange }: RuleProps) {
  const { t } = useTranslation();
  const byHours = (r.hours ?? 0) > 0;
  const how = !byHours ? "days" : r.working ? "working" : "hours";
  const of = { priority: r.priority, work: r.work, done: r.done };
  const count = (byHours ? r.hours : r.days) ?? 0;
  return (
    <div className={css.line}>
      <TextField
        select
        label={t("intake.priority")}
        value={r.priority}
        disabled={!may}
        onChange={(e) => onChange({ ...r, priority: e.target.value as Priority })}
      >
        {priorities.map((p) => (
          <MenuItem key={p} value={p}>
            {t(`priority.${p}`)}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label={t("promiseRules.work")}
        value={r.work ?? ""}
        disabled={!may}
        onChange={(e) => onChange({ ...r, work: e.target.value || undefined })}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">{t("promiseRules.any")}</MenuItem>
        {works.map((w) => (
          <MenuItem key={w.id} value={w.id}>
            {w.text}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label={t("promiseRules.what")}
        value={r.done ? "done" : "come"}
        disabled={!may}
        onChange={(e) => onChange({ ...r, done: e.target.value === "done" || undefined })}
      >
        <MenuItem value="come">{t("promiseRules.come")}</MenuItem>
        <MenuItem value="done">{t("promiseRules.done")}</MenuItem>
      </TextField>
      <TextField
        type="number"
        label={t("promiseRules.count")}
        value={count}
        disabled={!may}
        error={!promiseFine(r)}
        onChange={(e) => {
          const n = Math.max(byHours ? 1 : 0, Math.round(Number(e.target.value)));
          onChange(byHours ? { ...r, hours: n } : { ...r, days: n });
        }}
        slotProps={{ htmlInput: { min: byHours ? 1 : 0, max: byHours ? 1440 : 400 } }}
      />
      <TextField
        select
        label={t("promiseRules.how")}
        value={how}
        disabled={!may}
        onChange={(e) =>
          onChange(
            e.target.value === "days"
              ? { ...of, days: count, until: r.until || "17:00" }
              : { ...of, hours: Math.max(1, count), working: e.target.value === "working" || undefined },
          )
        }
      >
        <MenuItem value="hours">{t("promiseRules.hours")}</MenuItem>
        <MenuItem value="working">{t("promiseRules.working")}</MenuItem>
        <MenuItem value="days">{t("promiseRules.days")}</MenuItem>
      </TextField>
      {byHours ? <span /> : <TimeField label={t("promiseRules.until")} value={r.until ?? ""} onChange={(until) => onChange({ ...r, until })} />}
      {may && (
        <button type="button" className="link" onClick={() => onChange()}>
          {t("promiseRules.drop")}
        </button>
      )}
    </div>
  );
}
