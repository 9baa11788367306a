/** A rule of signals in words. */
import type { Point, SignalRule } from "../../types";
import { plainValue } from "../../ui/plainValue";
import i18next from "../../words/i18n";

export function ruleWords(r: SignalRule, points: Point[]): string {
  const { t } = i18next;
  const point = points.find((p) => p.id === r.point);
  const value = (v?: string) => (v === undefined ? "" : `${plainValue(v)} ${point?.unit ?? ""}`.trim());
  const limit = r.when === "rate" ? t("signals.when.rate", { limit: value(r.limit), per: r.per }) : t(`signals.when.${r.when}`, { limit: value(r.limit) });
  return [
    r.when === "silent" ? t("signals.silentFor", { minutes: r.for }) : `${point?.name ?? r.point} ${limit}`,
    r.when !== "silent" && r.for ? t("signals.forMinutes", { count: r.for }) : "",
    r.back !== undefined ? t("signals.wellAt", { value: value(r.back) }) : "",
    r.from ? t("signals.hours", { from: r.from, to: r.to }) : "",
    r.days ? t(`signals.days.${r.days as "06"}`) : "",
    r.do === "order" ? t("signals.opensOrder", { priority: i18next.t(`priority.${r.priority ?? "normal"}`).toLowerCase() }) : t("signals.calls"),
  ]
    .filter(Boolean)
    .join(" · ");
}
