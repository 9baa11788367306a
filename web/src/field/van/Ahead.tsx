import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { isoDate, quantity, shortDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { WhoHas } from "../parts/WhoHas";
import { type Lack, useLacks } from "../route/lacks";
import { useStops } from "../stops";

/** What the visits of the coming days need and the van does not have, by when it is needed. */
export function Ahead() {
  const { t } = useTranslation();
  const [asking, setAsking] = useState<Lack>();
  const all = useStops();
  const today = isoDate(Date.now());
  const stops = useMemo(() => all?.filter((s) => isoDate(s.visit.start) >= today), [all, today]);
  const order = useMemo(() => stops?.map((s) => s.id) ?? [], [stops]);
  const lacks = useLacks(stops, order);
  if (!stops || lacks.length === 0) return null;
  return (
    <section className="lacks" aria-label={t("van.ahead")}>
      <p>
        <Tag kind="warn">{t("van.ahead")}</Tag>
      </p>
      <ul>
        {lacks.map((l) => {
          const stop = stops.find((s) => s.id === l.stop);
          return (
            <li key={`${l.stop} ${l.part}`}>
              <button type="button" className="choice" onClick={() => setAsking(l)}>
                <span>
                  <span className="strong">
                    {quantity(l.lacks, l.unit)} × {l.name}
                  </span>
                  <span className="tiny quiet block">
                    {stop && shortDate(stop.visit.start)} · {t("lacks.for", { site: stop?.site?.name })}
                  </span>
                </span>
                <span className="small quiet nowrap">{t("needs.who")}</span>
              </button>
            </li>
          );
        })}
      </ul>
      {asking && <WhoHas part={asking.part} name={asking.name} quantity={asking.lacks} visit={asking.stop} onClose={() => setAsking(undefined)} />}
    </section>
  );
}
