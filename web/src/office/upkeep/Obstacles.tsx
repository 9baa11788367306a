import { useTranslation } from "react-i18next";
import type { UpkeepObstacle } from "../../types";
import { Tag } from "../../ui/Glyph";
import { say } from "../../words/i18n";

/** Why nothing falls due for some of what a plan is for: the first of each sort, with how many more there are. */
export function Obstacles({ list }: { list: UpkeepObstacle[] }) {
  const { t } = useTranslation();
  const codes = [...new Set(list.map((o) => o.why.code))];
  return codes.map((code) => {
    const same = list.filter((o) => o.why.code === code);
    return (
      <p className="small" key={code}>
        <Tag kind="warn">{say(same[0].why)}</Tag> {same.length > 1 && <span className="quiet">{t("upkeep.sameOf", { count: same.length - 1 })}</span>}
      </p>
    );
  });
}
