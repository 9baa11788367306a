import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { TimeField } from "../../form/dates";
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
  const draft = useDraft<{ other?: string }>(`end ${stop.id} ${end.entry}`, {});
  const { other } = draft.value;
  const confirm = async (at: string) => {
    if (await record("visit.end_confirmed", stop.id, { end: at })) draft.clear();
  };
  return (
    <section className="confirm-end" aria-label={t("end.title", { site: stop.site?.name })}>
      <p>
        <span className="strong block">{t("end.title", { site: stop.site?.name })}</span>
        <span className="small">{t("end.hint", { time: timeOrDay(end.at) })}</span>
      </p>
      {other === undefined ? (
        <div className="confirm-end-row">
          <Button variant="contained" onClick={() => void confirm(end.at)}>
            {t("end.yes", { time: time(end.at) })}
          </Button>
          <Button onClick={() => draft.change({ other: time(end.at) })}>{t("end.no")}</Button>
        </div>
      ) : (
        <form
          className="confirm-end-row"
          onSubmit={(e) => {
            e.preventDefault();
            if (other) void confirm(moment(momentOf(isoDate(end.at), other)));
          }}
        >
          <TimeField label={t("end.at")} value={other} onChange={(other) => draft.change({ other })} required />
          <Button type="submit" variant="contained" disabled={!other}>
            {t("end.save")}
          </Button>
        </form>
      )}
    </section>
  );
}
