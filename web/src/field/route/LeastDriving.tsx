import { Button } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Ordered } from "../../types";
import { duration } from "../../ui/format";
import { LayerDrawer } from "../../ui/Layers";
import { useDevice, useRecord } from "../device";
import type { Stop } from "../stops";
import { leastDriving } from "./legs";

interface Props {
  stops: Stop[];
  order: string[];
  day: string;
  onClose: () => void;
}

/** Puts the stops still to come in the order that needs the least driving, within what was promised. */
export default function LeastDriving({ stops, order, day, onClose }: Props) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const [offer, setOffer] = useState<Ordered>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: worked out once, when it is asked for
  useEffect(() => void leastDriving(db, stops, order).then(setOffer), []);
  const use = async (visits: string[]) => {
    if (await record("route.ordered", { type: "timecard", id: `${me.id}+${day}` }, { visits })) onClose();
  };
  if (!offer) return null;
  const better = offer.saved > 60 || offer.late > 60;
  return (
    <LayerDrawer anchor="bottom" onClose={onClose}>
      <div className="choices field">
        <h2>{t(better ? "order.title" : "order.best")}</h2>
        {better && (
          <>
            <p>
              {offer.late > 60 && `${t("order.late", { time: duration(offer.late) })} `}
              {offer.saved > 60
                ? t("order.saves", { time: duration(offer.saved) })
                : offer.saved < -60
                  ? t("order.costs", { time: duration(-offer.saved) })
                  : ""}
            </p>
            <ol className="order-list">
              {offer.ids.map((id) => (
                <li key={id}>{stops.find((s) => s.id === id)?.site?.name}</li>
              ))}
            </ol>
            <Button variant="contained" className="wide-button" onClick={() => use(offer.ids)}>
              {t("order.use")}
            </Button>
          </>
        )}
        {order.length > 0 && (
          <Button className="wide-button" onClick={() => use([])}>
            {t("order.planned")}
          </Button>
        )}
        <button type="button" className="link" onClick={onClose}>
          {t("order.keep")}
        </button>
      </div>
    </LayerDrawer>
  );
}
