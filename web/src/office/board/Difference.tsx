import { useTranslation } from "react-i18next";
import type { PlanCourse, PlanDraft } from "../../types";
import { duration } from "../../ui/format";

/** What a draft changes of driving, lateness and overtime, over all the days that it touches. */
export function Difference({ draft }: { draft: PlanDraft }) {
  const { t } = useTranslation();
  const change = (of: keyof PlanCourse) => draft.days.reduce((n, d) => n + d.after[of] - d.before[of], 0);
  const parts = (["drive", "late", "over"] as const).map((of) => ({ of, by: change(of) }));
  return (
    <span>
      {parts.map(({ of, by }, i) => (
        <span key={of}>
          {i > 0 && " · "}
          {t(`plandraft.${of}`)} <b className={by > 0 ? "worse" : undefined}>{by === 0 ? t("plandraft.same") : signed(by)}</b>
        </span>
      ))}
      {draft.more ? ` · ${t("plandraft.more", { count: draft.more })}` : null}
    </span>
  );
}

const signed = (seconds: number) => `${seconds > 0 ? "+" : "−"}${duration(Math.abs(seconds))}`;
