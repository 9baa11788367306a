import { arrayMove, useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { time } from "../../ui/format";
import { LayerDrawer } from "../../ui/Layers";
import { Grip, Sorting } from "../../ui/Sorting";
import { useDevice, useRecord } from "../device";
import { isOver, type Stop } from "../stops";

interface Props {
  /** of the day, in the order in which they are taken now */
  stops: Stop[];
  day: string;
  /** asks for the order with the least driving instead */
  onLeast: () => void;
  onClose: () => void;
}

/** Puts the stops still to come in an order of one's own: dragged, or moved with the keyboard by space, arrows, space. */
export default function OwnOrder({ stops, day, onLeast, onClose }: Props) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const [ids, setIds] = useState(() => stops.filter((s) => !isOver(s)).map((s) => s.id));
  const named = (id: string) => stops.find((s) => s.id === id)!;
  const save = async () => {
    const visits = [...stops.filter(isOver).map((s) => s.id), ...ids];
    if (await record("route.ordered", { type: "timecard", id: `${me.id}+${day}` }, { visits })) onClose();
  };
  return (
    <LayerDrawer anchor="bottom" onClose={onClose}>
      <div className="choices field">
        <h2>{t("order.list")}</h2>
        <p className="small quiet">{t("order.drag")}</p>
        <Sorting ids={ids} nameOf={(id) => named(id).site?.name ?? ""} onDrop={(a, b) => setIds(arrayMove(ids, ids.indexOf(a), ids.indexOf(b)))}>
          <ol className="own-order">
            {ids.map((id) => (
              <Row key={id} stop={named(id)} />
            ))}
          </ol>
        </Sorting>
        <button type="button" className="chip" onClick={onLeast}>
          {t("order.ask")}
        </button>
        <Button variant="contained" className="wide-button" onClick={save}>
          {t("order.use")}
        </Button>
        <button type="button" className="link" onClick={onClose}>
          {t("order.keep")}
        </button>
      </div>
    </LayerDrawer>
  );
}

function Row({ stop }: { stop: Stop }) {
  const sortable = useSortable({ id: stop.id });
  const { setNodeRef, transform, transition, isDragging } = sortable;
  return (
    <li ref={setNodeRef} style={{ transform: CSS.Transform.toString(transform), transition }} className={isDragging ? "line dragging" : "line"}>
      <Grip name={stop.site?.name ?? ""} sortable={sortable} />
      <span className="grow">
        <span className="strong">{stop.site?.name}</span> <span className="small quiet">{time(stop.visit.start)}</span>
        <span className="small block">{stop.order?.problem}</span>
      </span>
    </li>
  );
}
