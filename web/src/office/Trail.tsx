import { useTranslation } from "react-i18next";
import type { TrailLine } from "../types";
import { duration, timeOrDay } from "../ui/format";
import type { Word } from "../words/i18n";

const atOnce = 60_000;

/** Every entry in plain words: who, when, where, from which device, recorded when and arrived when. */
export function Trail({ lines }: { lines: TrailLine[] }) {
  const { t } = useTranslation();
  return (
    <section className="sec trail" aria-label={t("page.trail")}>
      <h2>
        {t("page.trail")} <span className="small quiet">{t("page.trailHint")}</span>
      </h2>
      <ol>
        {lines.map((l) => (
          <li key={l.id} className={l.struck ? "trail-struck" : undefined}>
            <span className="trail-time">{timeOrDay(l.at)}</span>
            <span>
              <span className={l.struck ? "struck" : undefined}>
                <b>{l.actor}</b> <Sentence line={l} />
              </span>
              <span className="tiny quiet block">
                {l.device === "office" ? t("trail.office") : l.device}
                {l.where && ` · ${t("trail.where", { lat: l.where.lat.toFixed(4), lon: l.where.lon.toFixed(4) })}`}
                {l.device !== "office" &&
                  ` · ${late(l) < atOnce ? t("trail.atOnce") : t("trail.arrived", { time: `${timeOrDay(l.received)} (${duration(late(l) / 1000)})` })}`}
              </span>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

const late = (l: TrailLine) => Date.parse(l.received) - Date.parse(l.at);

function Sentence({ line }: { line: TrailLine }) {
  const { t, i18n } = useTranslation();
  const args: Record<string, string> = { unit: "", reason: "", role: "", value: "", ...line.args };
  if (args.start) args.start = timeOrDay(args.start);
  if (args.outcome) args.outcome = t(`outcome.${args.outcome}` as Word);
  if (args.kind) args.kind = t(`entry.${args.kind}` as Word);
  if (args.value === "yes") args.value = t("checks.yes");
  if (args.value === "no") args.value = t("checks.no");
  const key = `trail.${line.kind}`;
  return <>{i18n.exists(key) ? t(key as Word, args).replace(/: $/, "") : line.kind}</>;
}
