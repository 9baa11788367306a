import { Button, MenuItem, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { byDate, change, endDate } from "../../field/time/pieces";
import { TimeField } from "../../form/dates";
import type { HoursDay, HoursPerson, Piece, Span, Stretch } from "../../types";
import { isoDate, isTime, moment, momentOf, shortDate, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LayerDrawer } from "../../ui/Layers";
import { Failure, useCommands, useSettings } from "../queries";

interface Props {
  person: HoursPerson;
  day: HoursDay;
  span?: Span;
  gap?: Stretch;
  onClose: () => void;
}

/** The office's correction of somebody's day. What was tapped stays visible. */
export function EditSpan({ person, day, span, gap, onClose }: Props) {
  const { t } = useTranslation();
  const commands = useCommands();
  const old = span ?? gap;
  const [from, setFrom] = useState(old ? time(old.start) : "08:00");
  const [to, setTo] = useState(old ? time(old.end) : "08:30");
  const visits = [...new Set(day.spans.flatMap((s) => s.visit ?? []))];
  const codes = useSettings().data?.time.indirect ?? [];
  const choices: { id: string; text: string; what: Pick<Piece, "kind" | "visit" | "code"> }[] = [
    ...visits.flatMap((visit) =>
      (["work", "travel", "wait"] as const).map((kind) => ({
        id: `${kind} ${visit}`,
        text: `${t(`clock.${kind}`)}: ${day.visits[visit]?.site}`,
        what: { kind, visit },
      })),
    ),
    ...codes.map((c) => ({ id: `indirect ${c.id}`, text: `${t("clock.indirect")}: ${c.text}`, what: { kind: "indirect" as const, code: c.id } })),
    { id: "break", text: t("clock.break"), what: { kind: "break" } },
    { id: "off", text: t("clock.off"), what: { kind: "off" } },
  ];
  const [what, setWhat] = useState(
    () => choices.find((c) => c.what.kind === span?.kind && c.what.visit === span?.visit && c.what.code === span?.code)?.id ?? "off",
  );
  const [reason, setReason] = useState("");
  const known = from !== "" && to !== ""; // neither is half typed
  const last = known ? endDate(day.date, from, to) : day.date;
  const at = (typed: string, was?: string, on = day.date) => (was && time(was) === typed && isoDate(was) === on ? was : moment(momentOf(on, typed)));
  const wrong = known && (!isTime(day.date, from) || !isTime(last, to)) ? t("time.noSuchHour") : undefined;
  const save = (e: FormEvent) => {
    e.preventDefault();
    const piece: Piece = { ...(choices.find((c) => c.id === what)?.what ?? { kind: "off" }), start: at(from, old?.start), end: at(to, old?.end, last) };
    const all = byDate(change(span, piece)).map(([on, pieces]) => ({
      kind: "time.corrected_by_office" as const,
      subject: { type: "timecard", id: `${person.id}+${on}` },
      body: { pieces, reason: reason.trim() },
    }));
    commands.mutate(all, { onSuccess: onClose });
  };
  return (
    <LayerDrawer anchor="right" onClose={onClose} slotProps={{ paper: { "aria-label": t("fix.title"), role: "dialog" } }}>
      <form className="plan-form" onSubmit={save}>
        <h1>{t("hours.editTitle", { name: person.name })}</h1>
        <TimeField label={t("fix.from")} value={from} onChange={setFrom} required />
        <TimeField label={t("fix.to")} value={to} onChange={setTo} required />
        <TextField select label={t("fix.what")} value={what} onChange={(e) => setWhat(e.target.value)}>
          {choices.map((c) => (
            <MenuItem key={c.id} value={c.id}>
              {c.text}
            </MenuItem>
          ))}
        </TextField>
        <TextField label={t("strike.why")} value={reason} onChange={(e) => setReason(e.target.value)} required />
        {last !== day.date && !wrong && <p className="small">{t("fix.overnight", { day: shortDate(momentOf(last, "12:00")) })}</p>}
        <p role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</p>
        <p className="small quiet">{t("fix.hint.change")}</p>
        <Failure error={commands.error} />
        <div className="plan-actions">
          <Button type="submit" variant="contained" disabled={!reason.trim() || !known || !!wrong || commands.isPending}>
            {t("fix.save")}
          </Button>
          <button type="button" className="link" onClick={onClose}>
            {t("choose.cancel")}
          </button>
        </div>
      </form>
    </LayerDrawer>
  );
}
