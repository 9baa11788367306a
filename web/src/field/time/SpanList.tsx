import { useTranslation } from "react-i18next";
import type { Span, Stretch } from "../../types";
import { duration, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useSettings } from "../device";
import type { Named } from "./day";
import { useUsualSort } from "./usualSort";
import { useWhat } from "./words";

interface Props {
  named: Named;
  onSpan?: (span: Span) => void;
  onGap?: (gap: Stretch) => void;
  onDescribe?: (span: Span, what: string) => void;
}

const seconds = (s: Stretch) => (Date.parse(s.end) - Date.parse(s.start)) / 1000;

/** The spans of the day one under another, with the gaps between them. */
export function SpanList({ named, onSpan, onGap, onDescribe }: Props) {
  const { t } = useTranslation();
  const say = useWhat(named);
  const { spans, gaps } = named.day;
  const lines = [...spans.map((span) => ({ span, at: span.start })), ...gaps.map((gap) => ({ gap, at: gap.start }))].sort(
    (a, b) => Date.parse(a.at) - Date.parse(b.at),
  );
  return (
    <ol className="spans">
      {lines.map((l) =>
        "gap" in l ? (
          <li key={`gap${l.at}`} className="span gap">
            <span className="span-time">{time(l.gap.start)}</span>
            <span className="span-bar" />
            <span className="span-body">
              <Tag kind="warn">{t("time.gap")}</Tag>
              {onGap && (
                <button type="button" className="link block" onClick={() => onGap(l.gap)}>
                  {t("time.assign")}
                </button>
              )}
            </span>
            <span className="end strong">{duration(seconds(l.gap))}</span>
          </li>
        ) : (
          <SpanLine key={l.span.from + l.at} span={l.span} words={say(l.span)} onSpan={onSpan} onDescribe={onDescribe} />
        ),
      )}
    </ol>
  );
}

interface LineProps {
  span: Span;
  words: { kind: string; about: string };
  onSpan?: (span: Span) => void;
  onDescribe?: (span: Span, what: string) => void;
}

function SpanLine({ span: s, words, onSpan, onDescribe }: LineProps) {
  const { t } = useTranslation();
  const usual = useUsualSort();
  const sorts = useSettings()?.time.sorts ?? [];
  const sort = s.kind === "work" ? (s.sort ?? usual) : undefined;
  return (
    <li className={`span ${s.kind}`}>
      <span className="span-time">
        {!s.loose && time(s.start)}
        <span className="quiet block">{s.loose ? t("length.loose") : s.open ? t("time.running") : time(s.end)}</span>
      </span>
      <span className="span-bar" style={{ minHeight: Math.min(110, Math.max(44, seconds(s) / 60)) }} />
      <span className="span-body">
        <span className="strong">{words.kind}</span>
        <span className="small quiet block">{words.about}</span>
        {(sort || s.text) && <span className="small block">{[sorts.find((x) => x.id === sort)?.text ?? sort, s.text].filter(Boolean).join(" · ")}</span>}
        {onDescribe && s.kind === "work" && (
          <button
            type="button"
            className="link small"
            aria-label={t("describe.openNamed", { what: `${words.kind} ${time(s.start)}` })}
            onClick={() => onDescribe(s, `${words.kind} ${time(s.start)}`)}
          >
            {t("describe.open")}
          </button>
        )}
        {s.corrected && <span className="small quiet block">{t("time.corrected")}</span>}
        {s.by && <span className="small quiet block">{t("time.by")}</span>}
      </span>
      <span className="end">
        <b className="block">{duration(seconds(s))}</b>
        {onSpan && !s.loose && (
          <button type="button" className="link small" aria-label={t("fix.openNamed", { what: `${words.kind} ${time(s.start)}` })} onClick={() => onSpan(s)}>
            {t("fix.open")}
          </button>
        )}
      </span>
    </li>
  );
}
