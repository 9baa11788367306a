import { FormControlLabel, MenuItem, Switch, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { SaidTrip, useTrip } from "./useTrip";

interface Props {
  trip: ReturnType<typeof useTrip>;
  onChange: (said: SaidTrip) => void;
  /** takes the kilometres of the odometer for those that count */
  onMeter: (km: string) => void;
}

/** Where kilometres were driven, and what the odometer says. */
export function TripFields({ trip, onChange, onMeter }: Props) {
  const { t } = useTranslation();
  const place = (end: "from" | "to") => (
    <TextField
      select
      label={t(`trip.${end}`)}
      value={trip.places.some((p) => p.name === trip[end]) ? trip[end] : ""}
      onChange={(e) => onChange({ [end]: e.target.value })}
    >
      {trip.places.map((p) => (
        <MenuItem key={p.name} value={p.name}>
          {p.name}
        </MenuItem>
      ))}
    </TextField>
  );
  const odometer = (end: "begin" | "end") => (
    <TextField
      label={t(`trip.${end}`)}
      value={trip[end]}
      error={trip.wrong}
      onChange={(e) => onChange({ [end]: e.target.value })}
      slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off" } }}
    />
  );
  return (
    <>
      <div className="form-row">
        {place("from")}
        {place("to")}
      </div>
      <FormControlLabel control={<Switch checked={trip.back} onChange={(_, back) => onChange({ back })} />} label={t("trip.back")} />
      <div className="form-row">
        {odometer("begin")}
        {odometer("end")}
      </div>
      <p className="small quiet" role="status">
        {trip.wrong ? t("trip.wrong") : trip.road ? t("trip.road", { km: trip.road }) : t("trip.unknown")}
      </p>
      {trip.meter && (
        <p className="small line">
          <span className="grow">{t("trip.meter", { km: trip.meter })}</span>
          <button type="button" className="link" onClick={() => onMeter(trip.meter)}>
            {t("trip.takeMeter")}
          </button>
        </p>
      )}
    </>
  );
}
