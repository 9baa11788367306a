import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Ref } from "../../types";
import { quantity, shortDate } from "../../ui/format";
import { Answer, useQuestion } from "../queries";

/** The parts used for a customer, at a site or on a machine, and the photos from all visits. */
export function Used({ of }: { of: Ref }) {
  const { t } = useTranslation();
  const query = useQuestion("/api/office/used/:type/:id", { type: of.type, id: of.id });
  return (
    <Answer query={query}>
      {(used) => (
        <>
          {used.photos.length > 0 && (
            <section className="sec" aria-label={t("used.photos")}>
              <h2>
                {t("used.photos")} {used.cut && <span className="small quiet">{t("used.cut", { count: used.photos.length })}</span>}
              </h2>
              <ul className="shots">
                {used.photos.map((p) => (
                  <li key={p.hash + p.visit}>
                    <a href={`/api/files/${p.hash}`} target="_blank" rel="noreferrer">
                      <img src={`/api/files/${p.hash}?thumb`} alt={p.caption} loading="lazy" />
                    </a>
                    <span className="tiny">
                      {p.caption} <Link to={`/office/visits/${p.visit}`}>{shortDate(p.at)}</Link>
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          )}
          {used.parts.length > 0 && (
            <section className="sec" aria-label={t("used.parts")}>
              <h2>
                {t("used.parts")} {used.more && <span className="small quiet">{t("used.latest", { count: used.orders })}</span>}
              </h2>
              {used.parts.map((p) => (
                <p className="line" key={p.part}>
                  <span className="grow">
                    {p.name} <span className="small quiet">{p.number}</span>
                  </span>
                  <span className="small nowrap">
                    <b>{quantity(p.quantity, p.unit)}</b> · {t("used.on", { count: p.visits })}{" "}
                    <Link to={`/office/visits/${p.visit}`}>{shortDate(p.last)}</Link>
                  </span>
                </p>
              ))}
            </section>
          )}
        </>
      )}
    </Answer>
  );
}
