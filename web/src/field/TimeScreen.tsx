import { useLiveQuery } from "dexie-react-hooks";
import { useTranslation } from "react-i18next";
import { core } from "../device/core";
import type { Order, Site, Timecard, Visit } from "../types";
import { Empty } from "../ui/Empty";
import { duration, isoDate, longDate, time } from "../ui/format";
import { HoursByKind } from "../ui/HoursByKind";
import { useCore, useDevice, useNow, usePolicy } from "./device";
import { SyncMark } from "./SyncMark";

const dayLength = 86_400_000;

/** The day as a line of spans, from the taps alone. */
export default function TimeScreen() {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const ready = useCore();
  const policy = usePolicy();
  const now = useNow(15_000);
  const day = useLiveQuery(async () => {
    if (!ready || !policy) return undefined;
    const date = isoDate(now);
    const cards = await Promise.all([isoDate(now - dayLength), date].map((d) => db.body<Timecard>("timecard", `${me.id}+${d}`)));
    const { spans, hours } = core("day", { cards: cards.filter((c) => c !== undefined), date, now, zone: policy.zone });
    const sites = await Promise.all(
      spans.map(async (s) => {
        const visit = await db.body<Visit>("visit", s.visit);
        const order = await db.body<Order>("workorder", visit?.order);
        return (await db.body<Site>("site", order?.site))?.name;
      }),
    );
    return { spans: spans.map((s, i) => ({ ...s, site: sites[i] })), hours };
  }, [db, me, ready, policy, now]);
  return (
    <main className="plain">
      <header className="screen-head">
        <div>
          <h1>{t("time.title")}</h1>
          <p className="small quiet">{longDate(now)}</p>
        </div>
        <SyncMark />
      </header>
      {day && day.spans.length === 0 && <Empty>{t("time.none")}</Empty>}
      {day && day.spans.length > 0 && (
        <>
          <HoursByKind hours={day.hours} />
          <ol className="spans">
            {day.spans.map((s) => (
              <li key={s.from + s.start} className={`span ${s.kind}`}>
                <span className="span-time">
                  {time(s.start)}
                  <span className="quiet block">{s.open ? t("time.running") : time(s.end)}</span>
                </span>
                <span className="span-bar" style={{ minHeight: Math.min(120, Math.max(48, (Date.parse(s.end) - Date.parse(s.start)) / 60_000)) }} />
                <span className="span-body">
                  <span className="strong">{s.kind !== "stop" && t(`clock.${s.kind}`)}</span>
                  <span className="small quiet block">{s.site}</span>
                </span>
                <span className="end strong">{duration((Date.parse(s.end) - Date.parse(s.start)) / 1000)}</span>
              </li>
            ))}
          </ol>
          <p className="small quiet">{t("time.paidNote")}</p>
        </>
      )}
    </main>
  );
}
