import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Correction, Length, Stamp } from "../../types";
import { duration, time } from "../../ui/format";
import { useDevice } from "../device";
import { Why } from "../visit/StrikeOut";
import type { Named } from "./day";
import { useWhat } from "./words";

/** What was tapped and corrected on the day. One's own can be struck out until the office has approved the day. */
export function Tapped({ named }: { named: Named }) {
  const { t } = useTranslation();
  const { stamps, corrections, lengths } = named.day;
  if (stamps.length + corrections.length + lengths.length === 0) return null;
  return (
    <details className="sec tapped">
      <summary>
        <h2>{t("tapped.title")}</h2>
      </summary>
      {stamps.map((s) => (
        <StampLine key={s.entry} stamp={s} named={named} />
      ))}
      {corrections.map((c) => (
        <CorrectionLine key={c.entry} correction={c} named={named} />
      ))}
      {lengths.map((l) => (
        <LengthLine key={l.entry} length={l} named={named} />
      ))}
    </details>
  );
}

function StampLine({ stamp: s, named }: { stamp: Stamp; named: Named }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const say = useWhat(named);
  const [asking, setAsking] = useState(false);
  const mine = !s.by && !named.day.approved && !s.struck;
  const kind = stampKind(s);
  return (
    <div className="line">
      <span className={`grow${s.struck ? " struck" : ""}`}>
        {time(s.at)} · {say(s).kind}
        <span className="small quiet block">
          {[say(s).about, s.late && t("time.late"), s.unconfirmed && t("trouble.end_unconfirmed")].filter(Boolean).join(" · ")}
        </span>
      </span>
      {s.struck && <span className="tiny quiet">{t("strike.done")}</span>}
      {mine && (
        <button type="button" className="link small" onClick={() => setAsking(true)}>
          {t("strike")}
        </button>
      )}
      {asking && (
        <Why
          visit={s.visit ?? { type: "timecard", id: `${me.id}+${named.day.date}` }}
          body={{ entry: s.entry, at: s.at, kind, person: me.id }}
          onClose={() => setAsking(false)}
        />
      )}
    </div>
  );
}

/** The kind of entry that a stamp comes from, to name what is struck out. */
function stampKind(s: Stamp): string {
  switch (s.kind) {
    case "travel":
      return "visit.set_off";
    case "work":
      return s.task ? "task.started" : "visit.arrived";
    case "wait":
    case "break":
      return "visit.paused";
    case "indirect":
      return "time.started";
    case "day_start":
      return "day.started";
    case "day_end":
      return "day.ended";
    case "task_end":
      return "task.done";
  }
  return s.visit ? "visit.finished" : "time.stopped";
}

interface OwnProps {
  named: Named;
  /** what is struck out: the entry, when it was recorded, and its kind */
  of: { entry: string; at: string; struck?: boolean };
  kind: string;
  mine: boolean;
  title: string;
  about: string;
}

/** Something on the day that is struck out by itself. */
function OwnLine({ named, of, kind, mine, title, about }: OwnProps) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const [asking, setAsking] = useState(false);
  return (
    <div className="line">
      <span className={`grow${of.struck ? " struck" : ""}`}>
        {title}
        <span className="small quiet block">{about}</span>
      </span>
      {of.struck && <span className="tiny quiet">{t("strike.done")}</span>}
      {mine && !of.struck && !named.day.approved && (
        <button type="button" className="link small" onClick={() => setAsking(true)}>
          {t("strike")}
        </button>
      )}
      {asking && (
        <Why
          visit={{ type: "timecard", id: `${me.id}+${named.day.date}` }}
          body={{ entry: of.entry, at: of.at, kind, person: me.id }}
          onClose={() => setAsking(false)}
        />
      )}
    </div>
  );
}

function CorrectionLine({ correction: c, named }: { correction: Correction; named: Named }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const say = useWhat(named);
  const title = t(c.office ? "tapped.officeCorrection" : "tapped.correction", { reason: c.reason });
  const about = c.pieces.map((p) => `${time(p.start)}–${time(p.end)} ${say(p).kind} ${say(p).about}`).join(", ");
  return <OwnLine named={named} of={c} kind="time.corrected" mine={c.by === me.id} title={title} about={about} />;
}

function LengthLine({ length: l, named }: { length: Length; named: Named }) {
  const { t } = useTranslation();
  const say = useWhat(named);
  const title = t("tapped.length", { time: duration(l.minutes * 60) });
  const about = [say(l).kind, say(l).about, l.late && t("time.late")].filter(Boolean).join(" · ");
  return <OwnLine named={named} of={l} kind="time.told" mine title={title} about={about} />;
}
