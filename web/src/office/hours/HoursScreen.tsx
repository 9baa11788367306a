import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { DateField } from "../../form/dates";
import { useMe } from "../../session/session";
import type { HoursPage } from "../../types";
import { isDate, isoDate, momentOf } from "../../ui/format";
import { PageHead } from "../../ui/PageHead";
import { Pressed } from "../../ui/Pressed";
import { Answer, Failure, useHours, usePosting } from "../queries";
import { ByOrder } from "./ByOrder";
import { ByPerson } from "./ByPerson";
import { anchor, Exceptions } from "./Exceptions";

const dayLength = 86_400_000;

/** Ranges that are asked for again and again, as dates. */
function ranges(today: string) {
  const noon = momentOf(today, "12:00").getTime();
  const back = (new Date(`${today}T12:00:00Z`).getUTCDay() + 6) % 7;
  const day = (n: number) => isoDate(noon + n * dayLength);
  return { thisWeek: [day(-back), today], lastWeek: [day(-back - 7), day(-back - 1)], twoWeeks: [day(-13), today] } as const;
}

/** The hours of a range: what needs a look first, then by person or by work order; approval, payroll and posting. */
export function HoursScreen() {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const known = ranges(isoDate(Date.now()));
  const names = Object.keys(known) as (keyof typeof known)[];
  const [wantedFrom, wantedTo] = [params.get("from"), params.get("to")];
  const from = isDate(wantedFrom) ? wantedFrom : known.twoWeeks[0];
  const to = isDate(wantedTo) ? wantedTo : known.twoWeeks[1];
  const by = params.get("by") ?? "person";
  const incomplete = params.get("incomplete") !== "no";
  const query = useHours(from, to);
  const set = (change: Record<string, string>) => setParams({ ...Object.fromEntries(params), ...change }, { replace: true });
  return (
    <main className="review hours-screen">
      <PageHead title={t("office.hours")} />
      <div className="hours-bar">
        <Pressed
          label={t("hours.range")}
          choices={names.map((k) => [k, t(`hours.${k}`)])}
          chosen={names.find((k) => from === known[k][0] && to === known[k][1])}
          onChoose={(k) => set({ from: known[k][0], to: known[k][1] })}
        />
        <DateField label={t("intake.from")} value={from} onChange={(from) => from && set({ from })} />
        <DateField label={t("intake.to")} value={to} onChange={(to) => to && set({ to })} />
        <label className="hours-check">
          <input type="checkbox" checked={incomplete} onChange={(e) => set({ incomplete: e.target.checked ? "yes" : "no" })} /> {t("hours.incomplete")}
        </label>
      </div>
      <Answer query={query}>
        {(page) => (
          <>
            <Exceptions page={page} onGo={(person, date) => go(set, person, date)} />
            <Post page={page} />
            <div className="hours-by" role="tablist">
              {(["person", "order"] as const).map((b) => (
                <button key={b} type="button" role="tab" aria-selected={by === b} onClick={() => set({ by: b })}>
                  {t(`hours.by.${b}`)}
                </button>
              ))}
            </div>
            {by === "order" ? <ByOrder from={from} to={to} incomplete={incomplete} /> : <ByPerson page={page} incomplete={incomplete} />}
          </>
        )}
      </Answer>
    </main>
  );
}

/** Shows a day of a person: in the list by person, whatever of it is left out or closed. */
function go(set: (change: Record<string, string>) => void, person: string, date: string) {
  set({ by: "person", incomplete: "yes" });
  // Once the list is there.
  requestAnimationFrame(() =>
    requestAnimationFrame(() => {
      const day = document.getElementById(anchor(person, date));
      day?.setAttribute("open", "");
      day?.scrollIntoView({ block: "start" });
      day?.querySelector("summary")?.focus();
    }),
  );
}

function Post({ page }: { page: HoursPage }) {
  const { t } = useTranslation();
  const post = usePosting();
  const pays = useMe()?.person.roles.some((r) => r === "reviewer" || r === "administrator");
  const days = page.people.flatMap((p) => p.days);
  const approved = days.filter((d) => d.approved).length;
  const posted = days.filter((d) => d.approved && d.posted).length;
  return (
    <section className="hours-post">
      <span className="grow">
        {t("hours.state", { days: days.filter((d) => d.worked).length, approved, posted })}
        {post.data && (
          <span role="status" className="small block">
            {t("hours.report", { days: post.data.days, lines: post.data.lines, open: post.data.open })}
          </span>
        )}
        <Failure error={post.error} />
      </span>
      {pays && (
        <>
          <Button component="a" href={`/api/office/hours/payroll.csv?from=${page.from}&to=${page.to}`} download>
            {t("hours.payroll")}
          </Button>
          <Button variant="contained" disabled={post.isPending || approved === 0} onClick={() => post.mutate({ from: page.from, to: page.to })}>
            {t("hours.post")}
          </Button>
        </>
      )}
    </section>
  );
}
