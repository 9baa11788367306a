import { useTranslation } from "react-i18next";
import { MapView, type Spot } from "../../map/MapView";
import type { MapPoint, Near } from "../../types";

/** Where those are who have a part, by their number in the list, and where this person is. */
export default function HolderMap({ holders, from }: { holders: Near[]; from?: MapPoint }) {
  const { t } = useTranslation();
  const spots: Spot[] = holders.flatMap((h, i) => (h.at ? [{ id: h.place, at: h.at, label: String(i + 1), dim: !h.enough }] : []));
  if (from) spots.push({ id: "here", at: from, label: "•", dim: true });
  return <MapView spots={spots} label={t("near.map", { count: holders.length })} />;
}
