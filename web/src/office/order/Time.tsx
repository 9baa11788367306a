import { useTranslation } from "react-i18next";
import type { OrderPage } from "../../types";
import { duration } from "../../ui/format";

/** The time of all visits, by person, with what was expected. */
export function Time({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  const people = new Map<string, { work: number; travel: number; wait: number }>();
  for (const v of page.visits)
    for (const c of v.crew) {
      const sum = people.get(c.person) ?? { work: 0, travel: 0, wait: 0 };
      people.set(c.person, { work: sum.work + c.hours.work, travel: sum.travel + c.hours.travel, wait: sum.wait + c.hours.wait });
    }
  const worked = [...people].filter(([, h]) => h.work + h.travel + h.wait > 0);
  const total = worked.reduce((n, [, h]) => n + h.work, 0);
  return (
    <section className="sec" aria-label={t("office.hours")}>
      <h2>
        {t("office.hours")} <span className="small quiet">{t("orderPage.expected", { time: duration(page.order.minutes * 60) })}</span>
      </h2>
      {worked.length === 0 && <p className="quiet">{t("orderPage.noTime")}</p>}
      {worked.map(([person, h]) => (
        <p className="line" key={person}>
          <span className="grow">{page.names[person] ?? person}</span>
          <span className="end nowrap">
            {duration(h.work)}
            <span className="small quiet block">
              {[h.travel > 0 && `${t("clock.travel")} ${duration(h.travel)}`, h.wait > 0 && `${t("clock.wait")} ${duration(h.wait)}`]
                .filter(Boolean)
                .join(" · ")}
            </span>
          </span>
        </p>
      ))}
      {worked.length > 1 && (
        <p className="line strong">
          <span className="grow">{t("orderPage.worked")}</span>
          <span className="end">{duration(total)}</span>
        </p>
      )}
    </section>
  );
}
