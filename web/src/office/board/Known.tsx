import { useTranslation } from "react-i18next";
import type { BoardKnown } from "../../types";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import type { Word } from "../../words/i18n";

/** Whether a technician has seen when a visit is, and how they were told of it. */
export function Known({ known: k }: { known: BoardKnown }) {
  const { t } = useTranslation();
  const told = k.failed ? t("known.failed") : k.told && k.way ? t(`known.${k.way}` as Word, { time: timeOrDay(k.told) }) : k.way ? t("known.soon") : "";
  return (
    <span className="small block">
      {k.seen ? t("known.seen", { time: timeOrDay(k.seen) }) : <Tag kind="warn">{t("known.unseen")}</Tag>}
      {told && <span className="quiet"> {told}</span>}
    </span>
  );
}
