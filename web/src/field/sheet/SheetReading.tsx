import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { PointLine } from "../visit/Readings";

/** A question that is answered by a reading: the same line as in the visit's readings. */
export function SheetReading({ view, asset, point }: { view: VisitView; asset: string; point: string }) {
  const { t } = useTranslation();
  const machine = view.machines.find((m) => m.id === asset);
  const at = machine?.points.find((p) => p.id === point);
  if (!machine || !at) return <p className="quiet small">{t("sheet.noPoint")}</p>;
  return <PointLine machine={machine} point={at} view={view} taken={view.readings.filter((r) => r.asset === asset && r.point === point)} />;
}
