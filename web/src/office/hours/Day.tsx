import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { HoursDay, HoursPerson, Span, Stretch } from "../../types";
import { duration, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PaidFigures } from "../../ui/PaidFigures";
import { Failure, useCommands, useSettings } from "../queries";
import { EditSpan } from "./EditSpan";

/** A day of a person, whole: what it is paid as and why, its spans, corrections, and what the office does with it. */
export function Day({ person, day: d }: { person: HoursPerson; day: HoursDay }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [editing, setEditing] = useState<{ span?: Span; gap?: Stretch }>();
  const subject = { type: "timecard", id: `${person.id}+${d.date}` };
  const late = d.exceptions.some((x) => x.trouble === "late_stamp");
  const tapped = (entry: string) => {
    const s = d.stamps.find((x) => x.entry === entry);
    return s && time(s.at);
  };
  return (
    <>
      <div className="hours-open">
        <PaidFigures paid={d.paid} names={tapped} />
        <Spans day={d} onEdit={d.approved ? undefined : setEditing} />
        {d.corrections.map((c) => (
          <p key={c.entry} className={`small quiet${c.struck ? " struck" : ""}`}>
            {t(c.office ? "tapped.officeCorrection" : "tapped.correction", { reason: c.reason })}:{" "}
            {c.pieces.map((x) => `${time(x.start)}–${time(x.end)} ${t(`clock.${x.kind}`)}`).join(", ")}
          </p>
        ))}
        <div className="hours-actions">
          {!d.approved && <Button onClick={() => setEditing({})}>{t("hours.add")}</Button>}
          {(!d.approved || late) && (
            <Button
              variant="contained"
              disabled={commands.isPending || d.spans.some((s) => s.open)}
              onClick={() => commands.mutate([{ kind: "day.approved", subject, body: {} }])}
            >
              {t(late ? "hours.approveAnew" : "hours.approve")}
            </Button>
          )}
          {d.approved && (
            <Button disabled={commands.isPending} onClick={() => commands.mutate([{ kind: "day.reopened", subject, body: {} }])}>
              {t("hours.reopen")}
            </Button>
          )}
        </div>
        <Failure error={commands.error} />
      </div>
      {editing && <EditSpan person={person} day={d} span={editing.span} gap={editing.gap} onClose={() => setEditing(undefined)} />}
    </>
  );
}

function Spans({ day: d, onEdit }: { day: HoursDay; onEdit?: (x: { span?: Span; gap?: Stretch }) => void }) {
  const rules = useSettings().data?.time;
  const codes = rules?.indirect ?? [];
  const { t } = useTranslation();
  const lines = [...d.spans.map((span) => ({ span, at: span.start })), ...d.gaps.map((gap) => ({ gap, at: gap.start }))].sort(
    (a, b) => Date.parse(a.at) - Date.parse(b.at),
  );
  return (
    <table className="table hours-spans">
      <tbody>
        {lines.map((l) => {
          const s: Stretch = "gap" in l ? l.gap : l.span;
          const span = "span" in l ? l.span : undefined;
          const v = d.visits[span?.visit ?? ""];
          return (
            <tr key={`${l.at} ${span?.from ?? ""}`}>
              <td className="nowrap">
                {span?.loose ? <span className="quiet">{t("length.loose")}</span> : `${time(s.start)}–${span?.open ? t("time.running") : time(s.end)}`}
              </td>
              <td className="nowrap">{duration((Date.parse(s.end) - Date.parse(s.start)) / 1000)}</td>
              <td>
                {span ? (
                  <>
                    <b>{span.kind === "indirect" ? (codes.find((c) => c.id === span.code)?.text ?? span.code) : t(`clock.${span.kind}`)}</b> {v?.site}{" "}
                    {span.task && v?.tasks[span.task]}
                    {(span.sort || span.text) && (
                      <span className="small quiet">
                        {" "}
                        {[rules?.sorts?.find((x) => x.id === span.sort)?.text ?? span.sort, span.text].filter(Boolean).join(" · ")}
                      </span>
                    )}
                    {span.corrected && <span className="small quiet"> · {t("time.corrected")}</span>}
                    {span.by && <span className="small quiet"> · {t("hours.byOther")}</span>}
                  </>
                ) : (
                  <Tag kind="warn">{t("time.gap")}</Tag>
                )}
              </td>
              <td>
                {onEdit && !span?.open && !span?.loose && (
                  <button type="button" className="link small" onClick={() => onEdit(span ? { span } : { gap: s })}>
                    {t("fix.open")}
                  </button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
