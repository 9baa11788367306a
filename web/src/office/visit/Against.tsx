import { useTranslation } from "react-i18next";
import type { Against as AgainstWhat } from "../../types";
import { Tag } from "../../ui/Glyph";
import { planReasons } from "../../ui/planReasons";
import { useSettings } from "../queries";

/** What a visit was planned against, and why all the same. */
export function Against({ against: a }: { against: AgainstWhat }) {
  const { t } = useTranslation();
  const skills = useSettings().data?.orders.skills ?? [];
  return (
    <span className="small block">
      <Tag kind="warn">{t("visit.against", { warnings: planReasons(a.warned ?? [], skills).join(", ") })}</Tag> {a.why}
    </span>
  );
}
