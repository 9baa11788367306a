import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { Declined } from "../../ui/Declined";
import { FoundBy } from "../../ui/FoundBy";
import { duration, isoDate, longDate, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { guidanceTo } from "../../ui/guidance";
import { openOn } from "../../ui/hours";
import { Reported } from "../../ui/Reported";
import { SiteHours } from "../../ui/SiteHours";
import { pathText } from "../../ui/troubles";
import { useSettings } from "../device";
import { CorrectAsset, CorrectSite } from "./Correct";
import { StandHere } from "./StandHere";
import { VisitSection } from "./VisitSection";

export function Brief({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { site, order, asset, visit } = view;
  const settings = useSettings();
  const end = new Date(Date.parse(visit.start) + visit.minutes * 60_000);
  return (
    <VisitSection id="brief" title={t("visit.brief")} end={t(`priority.${order.priority}`)}>
      <p className="brief-problem pre">{order.problem}</p>
      {order.signal && <Reported {...order.signal} />}
      {order.trouble && <p className="small">{pathText(settings?.troubles.tree ?? [], order.trouble)}</p>}
      {order.found && (
        <p className="small">
          <FoundBy found={order.found} />
        </p>
      )}
      <Declined visit={visit} names={view.names} settings={settings} />
      <p className="small quiet">
        {longDate(visit.start)} · {t("visit.planned", { start: time(visit.start), end: time(end) })} · {duration(visit.minutes * 60)}
      </p>
      <dl className="facts">
        {[view.customer.note, site.note, asset?.note].filter(Boolean).map((note) => (
          <div key={note}>
            <dt>
              <Tag kind="warn">{t("visit.note")}</Tag>
            </dt>
            <dd className="pre">{note}</dd>
          </div>
        ))}
        {order.instruction && (
          <div>
            <dt>{t("visit.instruction")}</dt>
            <dd className="pre">{order.instruction}</dd>
          </div>
        )}
        {site.hazard && (
          <div>
            <dt>
              <Tag kind="bad">{t("visit.hazard")}</Tag>
            </dt>
            <dd className="pre">{site.hazard}</dd>
          </div>
        )}
        {site.access && (
          <div>
            <dt>{t("visit.access")}</dt>
            <dd className="pre">{site.access}</dd>
          </div>
        )}
        {view.things && (
          <div>
            <dt>{t("board.things")}</dt>
            <dd className="strong">{view.things.join(", ")}</dd>
          </div>
        )}
        {openOn(site, isoDate(visit.start)) && (
          <div>
            <dt>{t("site.openThen")}</dt>
            <dd>
              <SiteHours site={site} date={isoDate(visit.start)} />
            </dd>
          </div>
        )}
        {asset && (
          <div>
            <dt>{t("visit.asset")}</dt>
            <dd>
              {asset.name}
              {(asset.maker || asset.serial) && (
                <span className="small quiet block">{t("visit.assetLine", { maker: asset.maker ?? "", serial: asset.serial ?? "" })}</span>
              )}
              <span className="links">
                <CorrectAsset id={order.asset} asset={asset} />
              </span>
            </dd>
          </div>
        )}
        <StandHere view={view} />
        <div>
          <dt>{t("visit.contact")}</dt>
          <dd>
            {site.contact.name}
            {site.contact.role && <span className="small quiet block">{site.contact.role}</span>}
            <span className="small quiet block">{site.address}</span>
            <span className="links">
              {site.contact.phone && (
                <>
                  <a href={`tel:${site.contact.phone.replaceAll(" ", "")}`}>{t("visit.call")}</a>
                  <a href={`sms:${site.contact.phone.replaceAll(" ", "")}`}>{t("visit.message")}</a>
                </>
              )}
              {site.lat !== undefined && <a href={guidanceTo(site)}>{t("visit.directions")}</a>}
              <CorrectSite id={order.site} site={site} />
            </span>
          </dd>
        </div>
        {[...(order.people ?? []), ...(site.people ?? [])].map((p) => (
          <div key={`${p.name} ${p.phone}`}>
            <dt>{p.role || t("visit.person")}</dt>
            <dd>
              {p.name}
              <span className="links">{p.phone && <a href={`tel:${p.phone.replaceAll(" ", "")}`}>{t("visit.call")}</a>}</span>
            </dd>
          </div>
        ))}
      </dl>
    </VisitSection>
  );
}
