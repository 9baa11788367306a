import { Button, Drawer } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Ordered } from "../../types";
import { duration } from "../../ui/format";
import { useDevice, useRecord } from "../device";
import { isOver, type Stop } from "../stops";
import { leastDriving } from "./legs";

/** Puts the stops still to come in the order that needs the least driving, within what was promised. */
export default function LeastDriving({ stops, order, day }: { stops: Stop[]; order: string[]; day: string }) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const [offer, setOffer] = useState<Ordered>();
  const ask = async () => setOffer(await leastDriving(db, stops, order));
  const use = async (visits: string[]) => {
    if (await record("route.ordered", { type: "timecard", id: `${me.id}+${day}` }, { visits })) setOffer(undefined);
  };
  if (!stops.some((s) => !isOver(s) && s.part !== "gone")) return null;
  const better = offer && (offer.saved > 60 || offer.late > 60);
  return (
    <>
      <button type="button" onClick={ask}>
        {t("order.ask")}
      </button>
      {offer && (
        <Drawer anchor="bottom" open onClose={() => setOffer(undefined)}>
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
            <button type="button" className="link" onClick={() => setOffer(undefined)}>
              {t("order.keep")}
            </button>
          </div>
        </Drawer>
      )}
    </>
  );
}
