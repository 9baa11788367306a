import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { RecordedLine, Ref, Struck, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { OwnReason } from "../../ui/OwnReason";
import type { Word } from "../../words/i18n";
import { useDevice, useRecord } from "../device";

interface Props {
  view: VisitView;
  line: RecordedLine;
  kind: string;
}

const reasons = ["tap", "visit", "value", "twice"] as const;

/** Strikes out what the person recorded, as long as the office has not reviewed it. It stays visible, crossed out. */
export function StrikeOut({ view, line: { entry, at, person, struck }, kind }: Props) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const [open, setOpen] = useState(false);
  if (struck) return <span className="tiny quiet">{t("strike.done")}</span>;
  if (person !== me.id || view.visit.reviewedAt) return null;
  return (
    <>
      <button type="button" className="link small" onClick={() => setOpen(true)}>
        {t("strike")}
      </button>
      {open && <Why visit={view.id} body={{ entry, at, kind, person }} onClose={() => setOpen(false)} />}
    </>
  );
}

export function Why({ visit, body, onClose }: { visit: string | Ref; body: Omit<Struck, "reason" | "touched">; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const strike = async (reason: string) => {
    const kept = !!(await record("entry.struck", visit, { ...body, reason }));
    if (kept) onClose();
    return kept;
  };
  return (
    <ChoiceDrawer title={t("strike.title", { what: t(`entry.${body.kind}` as Word) })} onClose={onClose}>
      <p className="small quiet">{t("strike.hint")}</p>
      <ul>
        {reasons.map((r) => (
          <li key={r}>
            <button type="button" className="choice" onClick={() => strike(t(`strike.${r}`))}>
              <span className="strong">{t(`strike.${r}`)}</span>
            </button>
          </li>
        ))}
      </ul>
      <OwnReason name={`strike ${body.entry}`} label={t("strike.why")} act={t("strike")} onReason={strike} />
    </ChoiceDrawer>
  );
}
