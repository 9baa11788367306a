import { useTranslation } from "react-i18next";
import type { Stretch } from "../../types";
import { duration, time } from "../../ui/format";
import type { Named } from "./day";
import { useWhat } from "./words";

const hour = 3_600_000;

/** The day from its first stamp to its last as one ribbon. A gap can be tapped, to say what it was. */
export function Ribbon({ named, onGap }: { named: Named; onGap?: (gap: Stretch) => void }) {
  const { t } = useTranslation();
  const { day } = named;
  const say = useWhat(named);
  const all = [...day.spans, ...day.gaps];
  const from = Math.min(...all.map((s) => Date.parse(s.start)));
  const to = Math.max(...all.map((s) => Date.parse(s.end)), from + hour);
  const place = (s: Stretch) => ({
    left: `${((Date.parse(s.start) - from) / (to - from)) * 100}%`,
    width: `${((Date.parse(s.end) - Date.parse(s.start)) / (to - from)) * 100}%`,
  });
  const every = (to - from) / hour > 8 ? 2 : 1;
  const hours = [];
  for (let at = Math.ceil(from / hour) * hour; at < to; at += every * hour) hours.push(at);
  return (
    <div className="ribbon">
      <div className="ribbon-band">
        {day.spans.map((s) => (
          <span key={s.from + s.start} className={`ribbon-span ${s.kind}`} style={place(s)} title={`${say(s).kind} ${say(s).about}`} />
        ))}
        {day.gaps.map((g) => (
          <button
            type="button"
            key={g.start}
            className="ribbon-gap"
            style={place(g)}
            disabled={!onGap}
            onClick={() => onGap?.(g)}
            aria-label={t("time.gapFrom", { from: time(g.start), to: time(g.end), time: duration((Date.parse(g.end) - Date.parse(g.start)) / 1000) })}
          />
        ))}
      </div>
      <div className="ribbon-hours tiny quiet" aria-hidden="true">
        {hours.map((h) => (
          <span key={h} style={{ left: `${((h - from) / (to - from)) * 100}%` }}>
            {time(h)}
          </span>
        ))}
      </div>
    </div>
  );
}
