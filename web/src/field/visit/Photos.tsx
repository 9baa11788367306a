import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { PhotoAdd, PhotoList } from "./PhotoStrip";
import { VisitSection } from "./VisitSection";

/** All photos and documents of the visit; those of a question or a meter are under it as well. */
export function Photos({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const files = view.visit.files ?? [];
  const [ofMachine, setOfMachine] = useState(false);
  const about = ofMachine && view.order.asset ? { asset: view.order.asset } : {};
  return (
    <VisitSection id="photos" title={t("visit.photos")} end={files.length > 0 ? String(files.length) : undefined}>
      {files.length === 0 && <p className="quiet small">{t("photos.none")}</p>}
      <PhotoList view={view} entries={files.map((f) => f.entry)} />
      <PhotoAdd visit={view.id} about={about} all />
      {view.asset && (
        <button type="button" className="chip" aria-pressed={ofMachine} onClick={() => setOfMachine(!ofMachine)}>
          {t("photos.of", { machine: view.asset.name })}
        </button>
      )}
    </VisitSection>
  );
}
