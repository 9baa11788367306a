import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { CustomerInShort } from "../../types";
import { isoDate, shortDate, time } from "../../ui/format";
import { Glyph } from "../../ui/Glyph";
import { useStops } from "../stops";
import { VisitSection } from "../visit/VisitSection";

/** The work for a customer: this person's visits, and what else the office says. */
export function WorkInShort({ sites, work }: { sites: string[]; work?: CustomerInShort["work"] }) {
  const { t } = useTranslation();
  const stops = (useStops() ?? []).filter((s) => s.order && sites.includes(s.order.site)).toReversed();
  const orders = work && [...work.open, ...work.past];
  const own = new Set(stops.map((s) => s.visit.order));
  return (
    <VisitSection id="work" title={t("customer.going")}>
      {stops.map((s) => (
        <Link key={s.id} to={`/field/visit/${s.id}?day=${isoDate(s.visit.start)}`} className="line find-line">
          <Glyph stage={s.standing.stage} />
          <span className="grow">
            <span className="strong">{s.order?.problem}</span>
            <span className="small quiet block">{s.order?.number}</span>
          </span>
          <span className="end small">
            {shortDate(s.visit.start)}
            <span className="block quiet">{time(s.visit.start)}</span>
          </span>
        </Link>
      ))}
      {work?.coming
        .filter((v) => !stops.some((s) => s.id === v.id))
        .map((v) => (
          <p className="line" key={v.id}>
            <span className="grow">
              {v.problem}
              <span className="small quiet block">{[v.number, v.technician || t("customer.offered")].join(" · ")}</span>
            </span>
            <span className="end small">
              {shortDate(v.start)}
              <span className="block quiet">{time(v.start)}</span>
            </span>
          </p>
        ))}
      {orders
        ?.filter((o) => !own.has(o.id) && !work?.coming.some((v) => v.order === o.id))
        .map((o) => (
          <p className="line" key={o.id}>
            <span className="grow">
              {o.problem}
              <span className="small quiet block">
                {o.number} · {t(`orderState.${o.state}`)}
              </span>
            </span>
            <span className="end small">{shortDate(o.opened)}</span>
          </p>
        ))}
      {!!work?.more && <p className="small quiet">{t("customer.more", { count: work.more })}</p>}
      {!work && <p className="small quiet">{t("customer.ownOnly")}</p>}
      {work && stops.length + work.open.length + work.past.length === 0 && <p className="small quiet">{t("customer.noWork")}</p>}
    </VisitSection>
  );
}
