import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { VisitView } from "../types";
import { bytes, timeOrDay } from "../ui/format";
import { Mark } from "../ui/Glyph";
import { LayerDialog } from "../ui/Layers";
import { isLater } from "../ui/later";
import { MarkedPhoto } from "../ui/MarkedPhoto";

/** Photos and documents of a visit, as soon as they have arrived. */
export function Photos({ view, here }: { view: VisitView; here: Record<string, boolean> }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState<string>();
  const files = view.visit.files ?? [];
  const large = files.find((f) => f.entry === open);
  if (files.length === 0) return null;
  return (
    <section className="sec" aria-label={t("page.photos")}>
      <h2>{t("page.photos")}</h2>
      <ul className="shots">
        {files.map((f) => (
          <li key={f.entry} className={f.struck ? "shot-struck" : undefined}>
            {here[f.hash] ? (
              <a
                href={`/api/files/${f.hash}`}
                target="_blank"
                rel="noreferrer"
                onClick={(e) => {
                  if (!f.marks) return;
                  e.preventDefault();
                  setOpen(f.entry);
                }}
              >
                {f.type.startsWith("image/") ? (
                  <MarkedPhoto marks={f.marks} src={`/api/files/${f.hash}?thumb`} alt={f.caption || f.name} loading="lazy" />
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
              {f.moment && <b>{t(`moment.${f.moment}`)} · </b>}
              {f.caption || f.name}
              {f.about.asset && (
                <span className="block">{t("photos.of", { machine: view.machines.find((m) => m.id === f.about.asset)?.asset.name ?? f.about.asset })}</span>
              )}
              <span className="quiet block">
                {view.names[f.person]} · {timeOrDay(f.at)} · {bytes(f.size)}
                {isLater(view, f.at) && ` · ${t("page.later")}`}
              </span>
            </span>
          </li>
        ))}
      </ul>
      {large && (
        <LayerDialog maxWidth="lg" onClose={() => setOpen(undefined)} slotProps={{ paper: { "aria-label": large.caption || large.name } }}>
          <MarkedPhoto marks={large.marks} src={`/api/files/${large.hash}`} alt={large.caption || large.name} className="shot-large" />
          <p className="shot-foot">
            {large.caption || large.name} ·{" "}
            <a href={`/api/files/${large.hash}`} target="_blank" rel="noreferrer">
              {t("photos.original")}
            </a>
          </p>
        </LayerDialog>
      )}
    </section>
  );
}
