import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { Empty } from "../../ui/Empty";
import { dayText } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Answer, useQuestion } from "../queries";
import { Obstacles } from "./Obstacles";
import { ruleWords } from "./rule";
import css from "./Upkeep.module.css";

/** The maintenance plans, with what is wrong with any of them. */
export function PlanList() {
  const { t } = useTranslation();
  return (
    <Answer query={useQuestion("/api/office/upkeep", {})}>
      {({ plans }) =>
        plans.length === 0 ? (
          <Empty>{t("upkeep.none")}</Empty>
        ) : (
          <div className={css.lines}>
            {plans.map((l) => (
              <div className="line" key={l.id}>
                <span className="grow">
                  <Link className="strong" to={`/office/upkeep/${l.id}`}>
                    {l.plan.name}
                  </Link>
                  <span className="small quiet block">
                    {[
                      l.customer || t("upkeep.several"),
                      l.plan.site ? t("upkeep.wholeSite") : t("upkeep.machines", { count: l.targets }),
                      ruleWords(l.plan, l.counter, l.unit),
                    ].join(" · ")}
                  </span>
                  <Obstacles list={l.obstacles} />
                </span>
                {l.overdue > 0 && <Tag kind="bad">{t("upkeep.overdueCount", { count: l.overdue })}</Tag>}
                <span className="small nowrap">{l.next ? t("upkeep.next", { day: dayText(l.next) }) : t("upkeep.nothing")}</span>
              </div>
            ))}
          </div>
        )
      }
    </Answer>
  );
}
