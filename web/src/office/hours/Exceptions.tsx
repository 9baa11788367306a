import { useTranslation } from "react-i18next";
import type { Exception, HoursPage } from "../../types";
import { duration, shortDate, time, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";

export const anchor = (person: string, date: string) => `day-${person}-${date}`;

/** What needs a look before anybody is paid, the days not approved first. */
export function Exceptions({ page, onGo }: { page: HoursPage; onGo: (person: string, date: string) => void }) {
  const { t } = useTranslation();
  const rank = (x: Exception) => Number(!pressing.has(x.trouble)) + Number(x.trouble === "gap");
  const all = page.people
    .flatMap((p) => p.days.flatMap((d) => d.exceptions.filter((x) => !d.approved || x.trouble === "late_stamp").map((x) => ({ x, p, d }))))
    .sort((a, b) => rank(a.x) - rank(b.x));
  return (
    <section className="sec" aria-label={t("hours.exceptions")}>
      <h2>
        {t("hours.exceptions")} <span className="small quiet">{all.length}</span>
      </h2>
      {all.length === 0 && <p className="quiet">{t("hours.noExceptions")}</p>}
      <ul className="hours-exceptions">
        {all.map(({ x, p, d }) => (
          <li key={p.id + d.date + x.trouble + x.start} className="line">
            <Trouble trouble={x} />
            <button type="button" className="link grow" onClick={() => onGo(p.id, d.date)}>
              {p.name}, {shortDate(x.start)}
            </button>
            <span className="small quiet">
              {page.sites[x.visit ?? ""]} {time(x.start)}
              {x.end && `–${timeOrDay(x.end, x.start)} · ${duration((Date.parse(x.end) - Date.parse(x.start)) / 1000)}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const pressing = new Set(["missing_end", "long_span", "overlap", "clock_error", "late_stamp"]);

export function Trouble({ trouble }: { trouble: Exception }) {
  const { t } = useTranslation();
  return <Tag kind={pressing.has(trouble.trouble) ? "bad" : "warn"}>{t(`trouble.${trouble.trouble}`)}</Tag>;
}
