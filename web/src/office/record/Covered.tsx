import { useTranslation } from "react-i18next";
import { isoDate, shortDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";

/** Whether a machine is covered, until a day (2026-03-10). */
export function Covered({ until }: { until: string }) {
  const { t } = useTranslation();
  const day = shortDate(`${until}T12:00:00Z`);
  return until >= isoDate(Date.now()) ? (
    <Tag kind="good">{t("covered.until", { day })}</Tag>
  ) : (
    <span className="small quiet">{t("covered.ended", { day })}</span>
  );
}
