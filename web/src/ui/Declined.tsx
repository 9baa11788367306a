import { useTranslation } from "react-i18next";
import type { Settings, Visit } from "../types";
import { timeOrDay } from "./format";
import { Tag } from "./Glyph";
import { reasonText } from "./reasons";

interface Props {
  visit: Visit;
  names: Record<string, string>;
  settings?: Settings;
}

/** Who declined the visit, and why. */
export function Declined({ visit, names, settings }: Props) {
  const { t } = useTranslation();
  const answers = visit.steps?.filter((s) => !s.struck && (s.action === "accepted" || s.action === "declined")) ?? [];
  const declines = answers.filter((s) => s.action === "declined" && answers.findLast((x) => x.person === s.person) === s);
  return declines.map((s) => (
    <p key={s.entry} className="small">
      <Tag kind="warn">{t("declined.by", { name: names[s.person] ?? s.person, reason: reasonText(settings?.visits.declines ?? [], s.reason ?? "") })}</Tag>{" "}
      <span className="quiet">{timeOrDay(s.at)}</span>
    </p>
  ));
}
