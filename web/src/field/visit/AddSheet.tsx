import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useDevice, useRecord } from "../device";

/** A check sheet that no rule attached, added by hand: the newest version of each. */
export default function AddSheet({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const record = useRecord();
  const all = useLive(db, (db) => db.all("sheet"), []) ?? [];
  const newest = all.filter((s) => !all.some((o) => o.body.id === s.body.id && o.body.version > s.body.version) && !view.order.sheets?.includes(s.id));
  const add = async (ref: string) => {
    if (await record("sheet.attached", view.id, { order: view.visit.order, sheet: ref })) onClose();
  };
  return (
    <ChoiceDrawer title={t("checks.add")} onClose={onClose}>
      <ul>
        {newest.map((s) => (
          <li key={s.id}>
            <button type="button" className="choice" onClick={() => add(s.id)}>
              <span className="strong">{s.body.title}</span>
              <span className="small quiet">{t("checks.questions", { count: s.body.sections.reduce((n, x) => n + x.questions.length, 0) })}</span>
            </button>
          </li>
        ))}
        {newest.length === 0 && <li className="empty">{t("checks.noMore")}</li>}
      </ul>
    </ChoiceDrawer>
  );
}
