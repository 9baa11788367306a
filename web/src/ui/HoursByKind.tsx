import { useTranslation } from "react-i18next";
import type { ClockKind, Hours } from "../types";
import { duration } from "./format";

/** The kinds of time that count. */
export const kinds = ["travel", "work", "wait", "break", "indirect"] as const satisfies ClockKind[];

/** How much time went to what. */
export function HoursByKind({ hours }: { hours: Hours }) {
  const { t } = useTranslation();
  return (
    <dl className="hours-by-kind">
      {kinds
        .filter((k) => k !== "indirect" || hours.indirect)
        .map((k) => (
          <div key={k}>
            <dt className="small quiet">{t(`clock.${k}`)}</dt>
            <dd data-seconds={hours[k] ?? 0}>{duration(hours[k] ?? 0)}</dd>
          </div>
        ))}
    </dl>
  );
}
