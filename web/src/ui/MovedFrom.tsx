import { useTranslation } from "react-i18next";
import type { Visit } from "../types";
import { timeOrDay } from "./format";
import { Tag } from "./Glyph";

/** When a visit was before it was moved, until its technician knows: they accepted it since, or have set off. */
export function MovedFrom({ visit: v }: { visit: Visit }) {
  const { t } = useTranslation();
  const knows = v.stage !== "sent" && !(v.stage === "accepted" && !v.askedAt);
  return v.movedFrom && !knows ? (
    <span className="block">
      <Tag kind="warn">{t("route.moved", { time: timeOrDay(v.movedFrom, v.start) })}</Tag>
    </span>
  ) : null;
}
