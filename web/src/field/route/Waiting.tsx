import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { asked, isUnderWay, type Stop } from "../stops";

/** Visits that still wait for the person, of whatever day, so that none is forgotten. */
export default function Waiting({ stops }: { stops: Stop[] }) {
  const { t } = useTranslation();
  return (
    <details className="waiting">
      <summary>
        <Tag kind="warn">{t("waiting.title", { count: stops.length })}</Tag>
      </summary>
      <ul>
        {stops.map((s) => {
          const question = asked(s.visit);
          const what = question ? "answer" : isUnderWay(s) ? "end" : "sign";
          return (
            <li key={s.id}>
              <Link className="line" to={`/field/visit/${s.id}${what === "sign" ? "?sign" : ""}`}>
                <span className="grow">
                  <span className="strong">{s.site?.name}</span> <span className="small quiet">{timeOrDay(s.visit.start)}</span>
                  <span className="small block">{question ? question.text : s.order?.problem}</span>
                </span>
                <span className="small">{t(`waiting.${what}`)}</span>
              </Link>
            </li>
          );
        })}
      </ul>
    </details>
  );
}
