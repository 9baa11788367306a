import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Caller } from "../../types";
import { absenceText } from "../../ui/absence";
import { isoDate, shortDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { weekOn, weekText } from "../../ui/hours";
import type { Call } from "./call";
import css from "./Intake.module.css";

/** How many open orders are shown. */
const shown = 5;

/** What stands out before anybody drives there, and what is open for the same already. */
export function Known({ call, known }: { call: Call; known?: Caller }) {
  const { t } = useTranslation();
  const site = known?.sites.find((s) => s.id === call.site)?.site;
  const today = isoDate(Date.now());
  const week = weekOn(site?.open, today);
  const open = (known?.open ?? []).filter((o) => call.site === "" || (o.site === call.site && (!call.asset || !o.asset || o.asset === call.asset)));
  return (
    <>
      {site?.hazard && (
        <p>
          <Tag kind="bad">{site.hazard}</Tag>
        </p>
      )}
      {site?.access && (
        <p className="small">
          <b>{t("field.access")}</b> {site.access}
        </p>
      )}
      {week && (
        <p className="small">
          <b>{t("site.open")}</b> {weekText(week)}
        </p>
      )}
      {(site?.closed ?? [])
        .filter((o) => o.to >= today)
        .map((o) => (
          <p className="small" key={`${o.from} ${o.begin}`}>
            <Tag kind="warn">{t("site.closedFor", { when: absenceText(o), why: o.why ?? "" })}</Tag>
          </p>
        ))}
      {site && !site.lat && (
        <p>
          <Tag kind="warn">{t("intake.noPlace")}</Tag>
        </p>
      )}
      {open.length > 0 && (
        <section className={css.open} aria-label={t("intake.openHere")}>
          <Tag kind="warn">{t("intake.openHere")}</Tag>
          {open.slice(0, shown).map((o) => (
            <p className="small" key={o.id}>
              <Link to={`/office/orders/${o.id}`}>
                {o.number} {o.problem}
              </Link>{" "}
              <span className="quiet">
                {t(`orderState.${o.state}`)} · {shortDate(o.opened)}
              </span>
            </p>
          ))}
          {open.length > shown && <p className="small quiet">{t("intake.openMore", { count: open.length - shown + (known?.more ?? 0) })}</p>}
        </section>
      )}
    </>
  );
}
