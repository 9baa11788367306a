import { useTranslation } from "react-i18next";
import type { VisitView } from "../types";
import { bytes, timeOrDay } from "../ui/format";
import { Mark } from "../ui/Glyph";

/** Photos and documents of a visit, as soon as they have arrived. */
export function Photos({ view, here }: { view: VisitView; here: Record<string, boolean> }) {
  const { t } = useTranslation();
  const files = view.visit.files ?? [];
  if (files.length === 0) return null;
  return (
    <section className="sec" aria-label={t("page.photos")}>
      <h2>{t("page.photos")}</h2>
      <ul className="shots">
        {files.map((f) => (
          <li key={f.entry} className={f.struck ? "shot-struck" : undefined}>
            {here[f.hash] ? (
              <a href={`/api/files/${f.hash}`} target="_blank" rel="noreferrer">
                {f.type.startsWith("image/") ? (
                  <img src={`/api/files/${f.hash}?thumb`} alt={f.caption || f.name} loading="lazy" />
                ) : (
                  <span className="shot-paper">{f.name}</span>
                )}
              </a>
            ) : (
              <span className="shot-paper quiet">
                <Mark kind="wait" /> {t("page.away", { name: view.names[f.person] ?? f.person })}
              </span>
            )}
            <span className={`tiny${f.struck ? " struck" : ""}`}>
              {f.caption || f.name}
              <span className="quiet block">
                {view.names[f.person]} · {timeOrDay(f.at)} · {bytes(f.size)}
              </span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
