import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { NeedLine, VisitView } from "../../types";
import { decimal } from "../../ui/decimal";
import { quantity } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice } from "../device";
import { useStock } from "./Where";
import { WhoHas } from "./WhoHas";

/** What is planned for the work, and whether the van has it; who else does, when it has not. */
export function Needs({ view, onUse }: { view: VisitView; onUse: (need: NeedLine) => void }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const stock = useStock(me.person.van);
  const [asking, setAsking] = useState<string>();
  if (view.needs.length === 0) return null;
  const asked = view.needs.find((n) => n.part === asking);
  return (
    <>
      {view.needs.map((n) => {
        const has = stock?.lines[n.part]?.balance ?? "0";
        const short = decimal(n.left).gt(has);
        return (
          <div className="line" key={n.part}>
            <span className="grow">
              {n.name}
              <span className="tiny quiet block">
                {decimal(n.left).isZero() ? t("needs.used") : t("needs.planned", { quantity: quantity(n.left, n.unit) })}
              </span>
              {short && <Tag kind="bad">{t("needs.lacks", { quantity: has })}</Tag>}
            </span>
            {short ? (
              <button type="button" className="chip" onClick={() => setAsking(n.part)}>
                {t("needs.who")}
              </button>
            ) : (
              decimal(n.left).gt(0) && (
                <>
                  <Tag kind="good">{t("needs.there")}</Tag>
                  <button type="button" className="chip" aria-label={t("needs.useNamed", { part: n.name })} onClick={() => onUse(n)}>
                    {t("needs.use")}
                  </button>
                </>
              )
            )}
          </div>
        );
      })}
      {asked && <WhoHas part={asked.part} name={asked.name} quantity={asked.left} visit={view.id} onClose={() => setAsking(undefined)} />}
    </>
  );
}
