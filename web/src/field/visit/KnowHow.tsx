import { Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import type { VisitView } from "../../types";
import { fitsWork } from "../../ui/knowHow";
import { screen } from "../../ui/screen";
import { useDevice, useSettings } from "../device";
import { KnowHowText } from "./KnowHowText";
import { VisitSection } from "./VisitSection";

const SendKnowHow = screen(() => import("./SendKnowHow"));

/** What the company has learned about the machine's kind or the order's trouble, and sending in something new. */
export function KnowHow({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const [sending, setSending] = useState(false);
  const tree = useSettings()?.troubles.tree ?? [];
  const all = useLive(db, (db) => db.all("knowhow"), []) ?? [];
  const said = [view.order.trouble, ...(view.visit.diagnoses ?? []).flatMap((d) => (d.struck ? [] : [d.trouble, d.cause]))];
  const fits = all.filter(({ body: k }) => !k.gone && (!k.sent || k.author === me.id) && fitsWork(k, tree, view.asset?.kind, said));
  return (
    <VisitSection
      id="knowhow"
      title={t("knowhow.title")}
      end={
        <button type="button" className="link" onClick={() => setSending(true)}>
          {t("knowhow.send")}
        </button>
      }
    >
      {fits.length === 0 && <p className="quiet small">{t("knowhow.none")}</p>}
      {fits.map((k) => (
        <KnowHowText key={k.id} knowHow={k.body} />
      ))}
      {sending && (
        <Suspense fallback={null}>
          <SendKnowHow view={view} onClose={() => setSending(false)} />
        </Suspense>
      )}
    </VisitSection>
  );
}
