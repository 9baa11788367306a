import { Button } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { absenceReasons, reasonText } from "../../ui/reasons";
import { SignatureImage } from "../../ui/SignatureImage";
import { SummaryChanges } from "../../ui/SummaryChanges";
import { useSettings } from "../device";
import { useAsked } from "../useAsked";
import { PhotoList } from "../visit/PhotoStrip";
import { StrikeOut } from "../visit/StrikeOut";
import { VisitSection } from "../visit/VisitSection";

const SignDialog = lazy(() => import("./SignDialog"));
const NotSigned = lazy(() => import("./NotSigned"));

/** Who signed for what, what is different since, and why nobody did. */
export function Signatures({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const settings = useSettings();
  const [open, setOpen] = useState<"sign" | "absent">();
  // Whoever has just finished is asked for the signature at once.
  useAsked("sign", () => setOpen("sign"));
  const close = () => setOpen(undefined);
  const signatures = view.visit.signatures?.filter((s) => !s.struck) ?? [];
  const absences = view.visit.absences?.filter((a) => !a.struck) ?? [];
  const reasons = absenceReasons(settings);
  return (
    <VisitSection id="signatures" title={t("sign.title")} end={view.changed ? <Tag kind="warn">{t("sign.changed")}</Tag> : undefined}>
      {signatures.map((s) => (
        <figure className="signed" key={s.entry}>
          <SignatureImage strokes={s.strokes} />
          <figcaption className="small">
            {t("sign.by", { name: s.name, role: s.role })} · {t("sign.on", { time: timeOrDay(s.at) })}{" "}
            <StrikeOut view={view} line={s} kind="signoff.captured" />
            <SummaryChanges changes={view.signed.find((x) => x.entry === s.entry)?.changes ?? []} />
          </figcaption>
        </figure>
      ))}
      {absences.map((a) => (
        <div key={a.entry}>
          <p className="line">
            <span className="grow">
              {t("absent.line", { reason: reasonText(reasons, a.reason) })}
              <span className="tiny quiet block">
                {a.name && `${a.name} · `}
                {timeOrDay(a.at)}
              </span>
            </span>
            <StrikeOut view={view} line={a} kind="signoff.missed" />
          </p>
          <PhotoList view={view} entries={(view.visit.files ?? []).filter((f) => f.about.entry === a.entry).map((f) => f.entry)} />
        </div>
      ))}
      <Button variant={signatures.length > 0 && !view.changed ? "outlined" : "contained"} onClick={() => setOpen("sign")} className="wide-button">
        {t(signatures.length > 0 ? "sign.again" : "sign.open")}
      </Button>
      {signatures.length === 0 && absences.length === 0 && (
        <button type="button" className="link" onClick={() => setOpen("absent")}>
          {t("absent.open")}
        </button>
      )}
      <Suspense fallback={null}>
        {open === "sign" && <SignDialog view={view} onClose={close} onAbsent={() => setOpen("absent")} />}
        {open === "absent" && <NotSigned view={view} onClose={close} />}
      </Suspense>
    </VisitSection>
  );
}
