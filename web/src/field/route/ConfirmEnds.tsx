import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Step } from "../../types";
import { isoDate, moment, momentOf, time, timeOrDay } from "../../ui/format";
import { useRecord } from "../device";
import type { Stop } from "../stops";

/** Asks when visits ended that the office closed. */
export default function ConfirmEnds({ ends }: { ends: { stop: Stop; end: Step }[] }) {
  return ends.map(({ stop, end }) => <ConfirmEnd key={stop.id} stop={stop} end={end} />);
}

function ConfirmEnd({ stop, end }: { stop: Stop; end: Step }) {
  const { t } = useTranslation();
  const record = useRecord();
  const [other, setOther] = useState<string>();
  const confirm = (at: string) => void record("visit.end_confirmed", stop.id, { end: at });
  return (
    <section className="confirm-end" aria-label={t("end.title", { site: stop.site?.name })}>
      <p>
        <span className="strong block">{t("end.title", { site: stop.site?.name })}</span>
        <span className="small">{t("end.hint", { time: timeOrDay(end.at) })}</span>
      </p>
      {other === undefined ? (
        <div className="confirm-end-row">
          <Button variant="contained" onClick={() => confirm(end.at)}>
            {t("end.yes", { time: time(end.at) })}
          </Button>
          <Button onClick={() => setOther(time(end.at))}>{t("end.no")}</Button>
        </div>
      ) : (
        <form
          className="confirm-end-row"
          onSubmit={(e) => {
            e.preventDefault();
            confirm(moment(momentOf(isoDate(end.at), other)));
          }}
        >
          <TextField type="time" label={t("end.at")} value={other} onChange={(e) => setOther(e.target.value)} required />
          <Button type="submit" variant="contained">
            {t("end.save")}
          </Button>
        </form>
      )}
    </section>
  );
}
