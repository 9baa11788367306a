import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { MapView } from "../../map/MapView";
import { useMapSource } from "../../map/source";
import type { MapPoint } from "../../types";
import { Tag } from "../../ui/Glyph";
import { isOutside, isSwapped, placed, readPlace, written } from "./position";

interface Props {
  /** what is there */
  name: string;
  at?: MapPoint;
  onPlace?: (at: MapPoint) => void;
}

/** Where something is, on the map and in degrees: a pin that is put by a press, moved by dragging, or typed. */
export function PinMap({ name, at, onPlace }: Props) {
  const { t } = useTranslation();
  const region = useMapSource()?.about;
  const [typed, setTyped] = useState<string>();
  const put = onPlace && ((p: MapPoint) => onPlace(placed(p)));
  const text = typed ?? (at ? written(at) : "");
  const bad = typed !== undefined && typed.trim() !== "" && !readPlace(typed);
  return (
    <div>
      <MapView spots={at ? [{ id: "pin", at, label: "", name }] : []} label={t("place.map", { name })} onPlace={put} low />
      {put && (
        <TextField
          label={t("place.degrees")}
          value={text}
          margin="dense"
          error={bad}
          helperText={bad ? t("place.bad") : region?.rev ? t("place.press") : t("place.noRegion")}
          onChange={(e) => {
            setTyped(e.target.value);
            const p = readPlace(e.target.value);
            if (p) put(p);
          }}
          onBlur={() => !bad && setTyped(undefined)}
        />
      )}
      {at && put && isSwapped(at, region) ? (
        <p className="line" role="status">
          <Tag kind="warn">{t("place.swapped")}</Tag>
          <Button onClick={() => put({ lat: at.lon, lon: at.lat })}>{t("place.swap")}</Button>
        </p>
      ) : (
        at && isOutside(at, region) && <Tag kind="warn">{t("place.outside")}</Tag>
      )}
    </div>
  );
}
