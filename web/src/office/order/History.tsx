import { useTranslation } from "react-i18next";
import type { TrailLine } from "../../types";
import { shortDate, timeOrDay } from "../../ui/format";
import type { Word } from "../../words/i18n";
import { Sentence } from "../Sentence";

/** What was done to the order itself, the latest first. What was done on its visits stands on their pages. */
export function History({ lines }: { lines: TrailLine[] }) {
  const { t, i18n } = useTranslation();
  const field = (name: string) => (i18n.exists(`orderField.${name}`) ? t(`orderField.${name}` as Word) : name);
  return (
    <section className="sec" aria-label={t("orderPage.history")}>
      <h2>{t("orderPage.history")}</h2>
      {lines.map((l) => (
        <p className="small line" key={l.id}>
          <span className="grow">
            <b>{l.actor}</b>{" "}
            {l.kind === "record.amended" ? (
              t("orderPage.changed", { fields: (l.args.fields ?? "").split(",").filter(Boolean).map(field).join(", ") })
            ) : (
              <Sentence kind={l.kind} args={l.args.until ? { ...l.args, until: shortDate(`${l.args.until}T12:00:00Z`) } : l.args} />
            )}
          </span>
          <span className="quiet nowrap">{timeOrDay(l.at)}</span>
        </p>
      ))}
    </section>
  );
}
