import { useEffect } from "react";
import { useTranslation } from "react-i18next";
import { followPosition, where } from "../../device/record";
import type { MapPoint, VisitView } from "../../types";
import { kilometres } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice, useNow, useRecord } from "../device";

/** How far off a position may be to be a site's, and how far a site's place is from there before another is offered, in metres. */
const mostOff = 60;
const elsewhere = 500;

const perDegree = 111_195;

const metresBetween = (a: MapPoint, b: MapPoint) => perDegree * Math.hypot(a.lat - b.lat, (a.lon - b.lon) * Math.cos((a.lat * Math.PI) / 180));

const rounded = (degrees: number) => Math.round(degrees * 1e5) / 1e5;

/** Offers where the phone is as the place of a site that has none, or that is said to be elsewhere, to somebody who is there. */
export function StandHere({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { tell } = useDevice();
  const record = useRecord();
  useEffect(followPosition, []);
  useNow(5000); // the phone may have found out meanwhile where it is
  const { site, order, visit } = view;
  const known = site.lat || site.lon ? { lat: site.lat ?? 0, lon: site.lon ?? 0 } : undefined;
  const here = where();
  const there = ["on_site", "paused"].includes(visit.stage);
  const off = known && here ? metresBetween(known, here) : 0;
  if (!there || !here || (here.accuracy ?? 0) > mostOff || (known && off < elsewhere)) return null;
  const put = async () => {
    const at = { lat: rounded(here.lat), lon: rounded(here.lon) };
    const base = { lat: known?.lat ?? null, lon: known?.lon ?? null };
    if (await record("record.amended", { type: "site", id: order.site }, at, { base })) tell(t("here.done", { site: site.name }));
  };
  return (
    <div>
      <dt>
        <Tag kind="warn">{known ? t("here.elsewhere", { far: kilometres(off) }) : t("here.none")}</Tag>
      </dt>
      <dd>
        <button type="button" className="links-button" onClick={() => void put()}>
          {t("here.put", { off: Math.round(here.accuracy ?? 0) })}
        </button>
      </dd>
    </div>
  );
}
