import { Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import type { Span, Stretch } from "../../types";
import { Empty } from "../../ui/Empty";
import { isDate, isoDate, longDate, momentOf, shortDate, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PaidFigures } from "../../ui/PaidFigures";
import { screen } from "../../ui/screen";
import { useNow, useWhole } from "../device";
import { SyncMark } from "../SyncMark";
import { DayActions } from "./DayActions";
import { useDay } from "./day";
import { Ribbon } from "./Ribbon";
import { SpanList } from "./SpanList";
import { Tapped } from "./Tapped";
import { Turns } from "./Turns";

const AskOff = screen(() => import("./AskOff"));
const OwnFeed = screen(() => import("./OwnFeed"));
const Describe = screen(() => import("./Describe"));
const Fix = screen(() => import("./Fix"));
const TellLength = screen(() => import("./TellLength"));

const dayLength = 86_400_000;

/** The day as a ribbon of spans with its gaps, what it is paid as, and how to put it right. */
export default function TimeScreen() {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const now = useNow(15_000);
  const today = isoDate(now);
  const wanted = params.get("day");
  const date = isDate(wanted) ? wanted : today;
  const named = useDay(date, now);
  const whole = useWhole();
  const [fixing, setFixing] = useState<{ span?: Span; gap?: Stretch }>();
  const [describing, setDescribing] = useState<{ span: Span; what: string }>();
  const [telling, setTelling] = useState(false);
  const [asking, setAsking] = useState(false);
  const [feeding, setFeeding] = useState(false);
  const noon = momentOf(date, "12:00").getTime();
  const move = (by: number) => {
    const d = isoDate(noon + by * dayLength);
    setParams(d === today ? {} : { day: d }, { replace: true });
  };
  const day = named?.day;
  const locked = day?.approved !== undefined;
  return (
    <main className="plain time">
      <header className="screen-head">
        <div>
          <h1>{t("time.title")}</h1>
          <p className="time-days">
            <button type="button" className="answer" aria-label={t("board.previous.day")} onClick={() => move(-1)}>
              ‹
            </button>
            <span>{shortDate(noon)}</span>
            <button type="button" className="answer" aria-label={t("board.next.day")} disabled={date >= today} onClick={() => move(1)}>
              ›
            </button>
          </p>
        </div>
        <SyncMark />
      </header>
      {asking && (
        <Suspense fallback={null}>
          <AskOff onClose={() => setAsking(false)} />
        </Suspense>
      )}
      {named && date === today && !locked && <DayActions named={named} now={now} />}
      {day?.approved && (
        <p>
          <Tag kind="good">{t(day.posted ? "time.posted" : "time.approved", { time: longDate(day.approved.at) })}</Tag>
        </p>
      )}
      {day && day.spans.length === 0 && whole !== undefined && <Empty>{t(whole ? "time.none" : "time.first")}</Empty>}
      {named && day && day.spans.length > 0 && (
        <>
          <Ribbon named={named} onGap={locked ? undefined : (gap) => setFixing({ gap })} />
          <PaidFigures paid={day.paid} names={(entry) => tapName(entry, day.stamps)} />
        </>
      )}
      {named && (
        <SpanList
          named={named}
          onSpan={locked ? undefined : (span) => setFixing({ span })}
          onGap={locked ? undefined : (gap) => setFixing({ gap })}
          onDescribe={(span, what) => setDescribing({ span, what })}
        />
      )}
      {named && !locked && (
        <button type="button" className="link" onClick={() => setFixing({})}>
          {t("fix.add")}
        </button>
      )}
      {named?.settings.time.lengths && !locked && (
        <button type="button" className="link" onClick={() => setTelling(true)}>
          {t("length.open")}
        </button>
      )}
      {date === today && <Turns now={now} />}
      <button type="button" className="link" onClick={() => setAsking(true)}>
        {t("absence.ask")}
      </button>
      <button type="button" className="link" onClick={() => setFeeding(true)}>
        {t("feed.title")}
      </button>
      {feeding && (
        <Suspense fallback={null}>
          <OwnFeed onClose={() => setFeeding(false)} />
        </Suspense>
      )}
      {named && <Tapped named={named} />}
      {describing && (
        <Suspense fallback={null}>
          <Describe span={describing.span} title={describing.what} onClose={() => setDescribing(undefined)} />
        </Suspense>
      )}
      {named && telling && (
        <Suspense fallback={null}>
          <TellLength named={named} onClose={() => setTelling(false)} />
        </Suspense>
      )}
      {named && fixing && (
        <Suspense fallback={null}>
          <Fix named={named} span={fixing.span} gap={fixing.gap} now={now} onClose={() => setFixing(undefined)} />
        </Suspense>
      )}
    </main>
  );
}

/** The moment of a stamp, to say which stamps made a figure. */
const tapName = (entry: string, stamps: { entry: string; at: string }[]) => {
  const stamp = stamps.find((s) => s.entry === entry);
  return stamp ? time(stamp.at) : undefined;
};
