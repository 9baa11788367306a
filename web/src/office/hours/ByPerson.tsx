import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { HoursDay, HoursPage, HoursPerson, Span, Stretch } from "../../types";
import { Empty } from "../../ui/Empty";
import { duration, isoDate, shortDate, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PaidFigures } from "../../ui/PaidFigures";
import { Failure, useCommands } from "../queries";
import { EditSpan } from "./EditSpan";
import { anchor, Trouble } from "./Exceptions";

/** The days of a range by person: each opens to its spans, and can be approved. */
export function ByPerson({ page, incomplete }: { page: HoursPage; incomplete: boolean }) {
  const { t } = useTranslation();
  const people = page.people
    .map((p) => ({ ...p, days: p.days.filter((d) => (incomplete || !d.open) && d.spans.length + d.stamps.length > 0) }))
    .filter((p) => p.days.length > 0);
  if (people.length === 0) return <Empty>{t("hours.none")}</Empty>;
  return people.map((p) => <Person key={p.id} person={p} page={page} />);
}

function Person({ person: p, page }: { person: HoursPerson; page: HoursPage }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const sum = (f: (d: HoursDay) => number) => p.days.reduce((n, d) => n + f(d), 0);
  const over = (d: HoursDay) => d.date < isoDate(Date.now()) || d.ended !== undefined;
  const ready = p.days.filter((d) => !d.approved && over(d) && !d.spans.some((s) => s.open) && d.exceptions.length === 0);
  const approve = () => commands.mutate(ready.map((d) => ({ kind: "day.approved", subject: { type: "timecard", id: `${p.id}+${d.date}` }, body: {} })));
  return (
    <section className="sec hours-person" aria-label={p.name}>
      <h2>
        <span>
          {p.name} <span className="small quiet">{t("hours.paidSum", { time: duration(sum((d) => d.paid.normal + d.paid.overtime + d.paid.double)) })}</span>
        </span>
        {ready.length > 0 && (
          <Button size="small" disabled={commands.isPending} onClick={approve}>
            {t("hours.approveReady", { count: ready.length })}
          </Button>
        )}
      </h2>
      <Failure error={commands.error} />
      {p.days.map((d) => (
        <Day key={d.date} person={p} day={d} page={page} />
      ))}
    </section>
  );
}

function Day({ person, day: d, page }: { person: HoursPerson; day: HoursDay; page: HoursPage }) {
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
    <details className="hours-day" id={anchor(person.id, d.date)}>
      <summary>
        <span className="hours-date">{shortDate(`${d.date}T12:00:00Z`)}</span>
        <span>{duration(d.paid.normal + d.paid.overtime + d.paid.double)}</span>
        <span className="small quiet">{d.paid.overtime + d.paid.double > 0 && t("hours.over", { time: duration(d.paid.overtime + d.paid.double) })}</span>
        <span className="grow hours-troubles">
          {d.exceptions
            .filter((x) => !d.approved || x.trouble === "late_stamp")
            .map((x) => (
              <Trouble key={x.trouble + x.start} trouble={x} />
            ))}
        </span>
        <span className="small">
          {d.approved ? (
            <Tag kind="good">{t(d.posted && Date.parse(d.posted) >= Date.parse(d.approved.at) ? "hours.posted" : "hours.approved")}</Tag>
          ) : d.open ? (
            t("hours.notOver")
          ) : (
            t("hours.toApprove")
          )}
        </span>
      </summary>
      <div className="hours-open">
        <PaidFigures paid={d.paid} names={tapped} />
        <Spans day={d} page={page} onEdit={d.approved ? undefined : setEditing} />
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
      {editing && <EditSpan person={person} day={d} page={page} span={editing.span} gap={editing.gap} onClose={() => setEditing(undefined)} />}
    </details>
  );
}

function Spans({ day: d, page, onEdit }: { day: HoursDay; page: HoursPage; onEdit?: (x: { span?: Span; gap?: Stretch }) => void }) {
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
          const v = page.visits[span?.visit ?? ""];
          return (
            <tr key={l.at}>
              <td className="nowrap">
                {time(s.start)}–{span?.open ? t("time.running") : time(s.end)}
              </td>
              <td className="nowrap">{duration((Date.parse(s.end) - Date.parse(s.start)) / 1000)}</td>
              <td>
                {span ? (
                  <>
                    <b>{span.kind === "indirect" ? span.code : t(`clock.${span.kind}`)}</b> {v?.site} {span.task && v?.tasks[span.task]}
                    {span.corrected && <span className="small quiet"> · {t("time.corrected")}</span>}
                    {span.by && <span className="small quiet"> · {t("hours.byOther")}</span>}
                  </>
                ) : (
                  <Tag kind="warn">{t("time.gap")}</Tag>
                )}
              </td>
              <td>
                {onEdit && !span?.open && (
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
