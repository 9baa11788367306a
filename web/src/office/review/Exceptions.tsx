import { useTranslation } from "react-i18next";
import type { ReviewException, ReviewExceptionKind } from "../../types";
import { duration } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import type { Word } from "../../words/i18n";

const loud: ReviewExceptionKind[] = ["hazards", "changed", "below_zero", "flags"];
const inMinutes: ReviewExceptionKind[] = ["over_time", "late"];

/** What a visit is looked at for, the most pressing first. */
export function Exceptions({ list, none = true }: { list: ReviewException[]; none?: boolean }) {
  const { t } = useTranslation();
  if (list.length === 0) return none ? <span className="quiet">{t("review.fine")}</span> : null;
  return (
    <span className="exceptions">
      {list.map((e) => (
        <Tag key={e.kind} kind={loud.includes(e.kind) ? "bad" : "warn"}>
          {inMinutes.includes(e.kind)
            ? t(`exception.${e.kind}` as Word, { time: duration(Number(e.text) * 60) })
            : t(`exception.${e.kind}` as Word, { count: Number(e.text ?? 0) })}
        </Tag>
      ))}
    </span>
  );
}
