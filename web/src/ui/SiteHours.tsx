import { useTranslation } from "react-i18next";
import type { Site } from "../types";
import { absenceText } from "./absence";
import { Tag } from "./Glyph";
import { openOn, writeStretches } from "./hours";

/** When a site can be visited on a date, and what it is closed for. */
export function SiteHours({ site, date }: { site: Site; date: string }) {
  const { t } = useTranslation();
  const open = openOn(site, date);
  if (!open) return null;
  const { hours, closed } = open;
  return (
    <>
      {hours.length > 0 ? writeStretches(hours) : <Tag kind="warn">{t("site.notOpen")}</Tag>}
      {closed.map((o) => (
        <span className="small block" key={`${o.from} ${o.begin} ${o.to}`}>
          {t("site.closedFor", { when: absenceText(o), why: o.why ?? "" })}
        </span>
      ))}
    </>
  );
}
