import { useTranslation } from "react-i18next";
import type { Diagnosis } from "../../types";
import { diagnosisText } from "../../ui/troubles";
import { useSettings } from "../queries";

/** What was wrong, why, and what was done about it, as people on the visits said. */
export function Diagnoses({ lines, names }: { lines: Diagnosis[]; names: Record<string, string> }) {
  const { t } = useTranslation();
  const tree = useSettings().data?.troubles.tree ?? [];
  const said = lines.filter((d) => !d.struck);
  if (tree.length === 0 && said.length === 0) return null;
  return (
    <section className="sec" aria-label={t("trouble.title")}>
      <h2>{t("trouble.title")}</h2>
      {said.length === 0 && <p className="quiet">{t("trouble.none")}</p>}
      {said.map((d) => (
        <p className="line" key={d.entry}>
          <span className="grow">{diagnosisText(tree, d)}</span>
          <span className="small quiet">{names[d.person]}</span>
        </p>
      ))}
    </section>
  );
}
