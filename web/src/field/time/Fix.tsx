import { Button, MenuItem, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { TimeField } from "../../form/dates";
import type { Piece, Span, Stretch } from "../../types";
import { isoDate, isTime, moment, momentOf, shortDate, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LayerDrawer } from "../../ui/Layers";
import { useDevice, useRecord } from "../device";
import { choicesOf, whatOf } from "./choices";
import type { Named } from "./day";
import { byDate, change, endDate } from "./pieces";

interface Props {
  named: Named;
  span?: Span;
  gap?: Stretch;
  now: number;
  onClose: () => void;
}

const reasons = ["forgot", "button", "late"] as const;
type Way = "change" | "part" | "remove";

/** Puts time right: changes, splits or removes a span, gives a gap a meaning, or adds what was never tapped. */
export default function Fix({ named, span, gap, now, onClose }: Props) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const { date } = named.day;
  const old = span ?? gap;
  const choices = choicesOf(named, t);
  const had = choices.find((c) => span && c.what.kind === span.kind && c.what.visit === span.visit && (c.what.code ?? "") === (span.code ?? ""));
  const [opened] = useState(now);
  const draft = useDraft(`fix ${date} ${old?.start ?? ""}`, {
    way: "change" as Way,
    from: old ? time(old.start) : "08:00",
    to: old ? time(span?.open ? opened : old.end) : "08:30",
    what: had?.id ?? choices[0].id,
    reason: "",
  });
  const { way, from, to, what, reason } = draft.value;
  // Seconds count: a time that was not changed is the very moment it was.
  const at = (typed: string, was?: string, on = date) => (was && time(was) === typed && isoDate(was) === on ? was : moment(momentOf(on, typed)));
  const last = endDate(date, from, to);
  const half = way !== "remove" && (from === "" || to === ""); // a time is being typed
  const wrong =
    way === "remove" || half
      ? undefined
      : !isTime(date, from) || !isTime(last, to)
        ? t("time.noSuchHour")
        : !span?.open && momentOf(last, to).getTime() > opened + 60_000
          ? t("time.notYet")
          : undefined;

  const save = async (e: FormEvent) => {
    e.preventDefault();
    const end = span?.open ? moment(now) : old?.end;
    const whole = old && { start: old.start, end: end! };
    let pieces: Piece[];
    if (way === "remove") pieces = [{ kind: "off", ...whole! }];
    else {
      const piece: Piece = { ...whatOf(choices, what, span), start: at(from, old?.start), end: at(to, end, last) };
      pieces = way === "part" || !span ? [piece] : change(whole, piece);
    }
    for (const [on, those] of byDate(pieces))
      if (!(await record("time.corrected", { type: "timecard", id: `${me.id}+${on}` }, { pieces: those, reason: reason.trim() }))) return;
    draft.clear();
    onClose();
  };
  return (
    <LayerDrawer anchor="bottom" onClose={onClose}>
      <form className="choices field fix" onSubmit={save}>
        <h2>{t(span ? "fix.title" : gap ? "time.assign" : "fix.add")}</h2>
        {span && (
          <div className="options">
            {(["change", "part", "remove"] as const).map((w) => (
              <button key={w} type="button" aria-pressed={way === w} onClick={() => draft.change({ way: w })}>
                {t(`fix.${w}`)}
              </button>
            ))}
          </div>
        )}
        {way !== "remove" && (
          <>
            <div className="two-fields">
              <TimeField label={t("fix.from")} value={from} onChange={(from) => draft.change({ from })} required />
              <TimeField label={t("fix.to")} value={to} onChange={(to) => draft.change({ to })} required />
            </div>
            <TextField select label={t("fix.what")} value={what} onChange={(e) => draft.change({ what: e.target.value })}>
              {choices.map((c) => (
                <MenuItem key={c.id} value={c.id}>
                  {c.text}
                </MenuItem>
              ))}
            </TextField>
          </>
        )}
        {last !== date && way !== "remove" && !half && !wrong && <p className="small">{t("fix.overnight", { day: shortDate(momentOf(last, "12:00")) })}</p>}
        <p role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</p>
        <p className="small quiet">{t(`fix.hint.${way}`)}</p>
        <div className="options">
          {reasons.map((r) => (
            <button key={r} type="button" aria-pressed={reason === t(`fix.reason.${r}`)} onClick={() => draft.change({ reason: t(`fix.reason.${r}`) })}>
              {t(`fix.reason.${r}`)}
            </button>
          ))}
        </div>
        <TextField
          label={t("strike.why")}
          value={reason}
          onChange={(e) => draft.change({ reason: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 500 } }}
          required
        />
        <Button type="submit" variant="contained" disabled={!reason.trim() || half || !!wrong}>
          {t("fix.save")}
        </Button>
        <ThrowAway draft={draft} />
        <button type="button" className="link" onClick={onClose}>
          {t("choose.cancel")}
        </button>
      </form>
    </LayerDrawer>
  );
}
