import { useEffect } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { letCoreLoad } from "../../device/core";
import type { VisitView } from "../../types";
import { Empty } from "../../ui/Empty";
import { time, timeOrDay } from "../../ui/format";
import { Glyph, Tag } from "../../ui/Glyph";
import { MovedFrom } from "../../ui/MovedFrom";
import type { Word } from "../../words/i18n";
import { useVisit } from "../device";
import { Finish } from "../finish/Finish";
import { Parts } from "../parts/Parts";
import { SyncMark } from "../SyncMark";
import { useLook } from "../stops";
import { OfficeAsks } from "../talk/OfficeAsks";
import { TalkSection } from "../talk/TalkSection";
import { useUnread } from "../talk/talks";
import { FurtherWork } from "../work/FurtherWork";
import { History } from "../work/History";
import { Brief } from "./Brief";
import { Checks } from "./Checks";
import { Crew } from "./Crew";
import { Customer } from "./Customer";
import { KnowHow } from "./KnowHow";
import { Notes } from "./Notes";
import { Papers } from "./Papers";
import { Photos } from "./Photos";
import { Readings } from "./Readings";
import { Substances } from "./Substances";
import { Tasks } from "./Tasks";
import { Troubles } from "./Troubles";
import { jump } from "./VisitSection";

const sections = ["brief", "talk", "tasks", "readings", "checks", "parts", "photos", "notes", "further", "finish", "signatures", "report"] as const;

/** One page, in the order the work is done. */
export default function VisitScreen({ wide }: { wide: boolean }) {
  const { t } = useTranslation();
  const id = useParams().id ?? "";
  const view = useVisit(id);
  useLook(id, view?.visit.start);
  useEffect(letCoreLoad, []);
  if (view === undefined) return <p className="empty">{t("visit.opening")}</p>;
  if (view === null) {
    return (
      <Empty>
        <p>{t("visit.gone")}</p>
        <Link className="link" to="/field">
          {t("visit.back")}
        </Link>
      </Empty>
    );
  }
  const open = !["planned", "sent", "declined"].includes(view.visit.stage);
  return (
    // Another visit is another page: nothing half typed on this one goes along.
    <main className="visit" key={view.id}>
      <Head view={view} wide={wide} />
      <div className="visit-body">
        <OfficeAsks view={view} />
        <Brief view={view} />
        <TalkSection view={view} />
        <History view={view} />
        <Papers view={view} />
        <KnowHow view={view} />
        {view.visit.stage === "finished" && !view.visit.reviewedAt && <p className="small quiet">{t("visit.stillOpen")}</p>}
        {open ? (
          <>
            <Tasks view={view} />
            <Crew view={view} />
            <Customer view={view} />
            <Readings view={view} />
            <Checks view={view} />
            <Substances view={view} />
            <Parts view={view} />
            <Photos view={view} />
            <Notes view={view} />
            <Troubles view={view} />
            <FurtherWork view={view} />
            <Finish view={view} />
          </>
        ) : (
          <p className="quiet">{t("visit.lock")}</p>
        )}
      </div>
    </main>
  );
}

function Head({ view, wide }: { view: VisitView; wide: boolean }) {
  const { t } = useTranslation();
  const { order, visit } = view;
  const open = view.ready.lacking.filter((l) => !l.skip && l.check !== "signature").length;
  const unread = useUnread()[visit.order] ?? 0;
  const marks: Partial<Record<(typeof sections)[number], number>> = { finish: open, talk: unread, signatures: view.changed ? 1 : 0 };
  const recording = !["planned", "sent", "declined"].includes(visit.stage);
  return (
    <header className="visit-head">
      <div className="visit-title">
        {!wide && (
          <Link to="/field" className="back" aria-label={t("visit.back")}>
            <svg viewBox="0 0 22 22" className="glyph" aria-hidden="true">
              <path d="M14 3 6 11l8 8" fill="none" stroke="currentColor" strokeWidth="2.4" />
            </svg>
          </Link>
        )}
        <div className="grow">
          <h1>{view.site.name}</h1>
          <p className="small quiet">
            {t("visit.order", { number: order.number })} · {view.customer.name}
          </p>
          <p className="small">
            <Glyph stage={view.standing.stage} /> {t(`stage.${view.standing.stage}`)}
            {order.promiseFrom && order.promiseTo && (
              <>
                {" · "}
                {t("visit.promised", { from: time(order.promiseFrom), to: time(order.promiseTo) })}
              </>
            )}
            {order.doneBy && ` · ${t("route.doneBy", { time: timeOrDay(order.doneBy) })}`}
          </p>
          <MovedFrom visit={view.visit} />
        </div>
        <SyncMark />
      </div>
      <nav className="rail" aria-label={view.site.name}>
        {sections
          .filter((s) => recording || s === "brief" || s === "talk")
          .map((s) => (
            <a key={s} href={`#${s}`} onClick={(e) => jump(e, s)}>
              {t(`visit.${s}` as Word)}
              {!!marks[s] && (
                <>
                  {" "}
                  <Tag kind="warn">{marks[s]}</Tag>
                </>
              )}
            </a>
          ))}
      </nav>
    </header>
  );
}
