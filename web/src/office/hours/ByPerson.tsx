import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { HoursPage, HoursPerson, HoursSum } from "../../types";
import { Empty } from "../../ui/Empty";
import { duration, isoDate, shortDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Answer, Failure, useCommands, useHoursDay } from "../queries";
import { Day } from "./Day";
import { anchor, Trouble } from "./Exceptions";

/** The days of a range by person: each opens to its spans, and can be approved. */
export function ByPerson({ page, incomplete }: { page: HoursPage; incomplete: boolean }) {
  const { t } = useTranslation();
  const people = page.people.map((p) => ({ ...p, days: p.days.filter((d) => incomplete || !d.open) })).filter((p) => p.days.length > 0);
  if (people.length === 0) return <Empty>{t("hours.none")}</Empty>;
  return people.map((p) => <Person key={p.id} person={p} />);
}

const paid = (d: HoursSum) => d.normal + d.overtime + d.double;

function Person({ person: p }: { person: HoursPerson }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const over = (d: HoursSum) => d.date < isoDate(Date.now()) || d.ended;
  const ready = p.days.filter((d) => !d.approved && over(d) && !d.running && d.exceptions.length === 0);
  const approve = () => commands.mutate(ready.map((d) => ({ kind: "day.approved", subject: { type: "timecard", id: `${p.id}+${d.date}` }, body: {} })));
  return (
    <section className="sec hours-person" aria-label={p.name}>
      <h2>
        <span>
          {p.name} <span className="small quiet">{t("hours.paidSum", { time: duration(p.days.reduce((n, d) => n + paid(d), 0)) })}</span>
        </span>
        {ready.length > 0 && (
          <Button size="small" disabled={commands.isPending} onClick={approve}>
            {t("hours.approveReady", { count: ready.length })}
          </Button>
        )}
      </h2>
      <Failure error={commands.error} />
      {p.days.map((d) => (
        <Line key={d.date} person={p} day={d} />
      ))}
    </section>
  );
}

/** What a day comes to; it opens to the whole of it. */
function Line({ person, day: d }: { person: HoursPerson; day: HoursSum }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <details className="hours-day" id={anchor(person.id, d.date)} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>
        <span className="hours-date">{shortDate(`${d.date}T12:00:00Z`)}</span>
        <span>{duration(paid(d))}</span>
        <span className="small quiet">{d.overtime + d.double > 0 && t("hours.over", { time: duration(d.overtime + d.double) })}</span>
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
      {open && <Whole person={person} date={d.date} />}
    </details>
  );
}

function Whole({ person, date }: { person: HoursPerson; date: string }) {
  const query = useHoursDay(`${person.id}+${date}`);
  return <Answer query={query}>{(day) => <Day person={person} day={day} />}</Answer>;
}
