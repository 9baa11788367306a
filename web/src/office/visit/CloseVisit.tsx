import { Button, DialogActions, DialogContent, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraftText } from "../../draft/draft";
import type { Closed, Outcome, VisitView } from "../../types";
import { timeOrDay } from "../../ui/format";
import { LayerDialog } from "../../ui/Layers";
import { Failure, useCommands } from "../queries";

const outcomes: Outcome[] = ["complete", "return_needed", "no_access", "not_needed"];

/** Closes a visit that its technician forgot to finish. Its time ends where it was planned, until they say when it was. */
export function CloseVisit({ view, closing }: { view: VisitView; closing: Closed }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [asked, setAsked] = useState<Closed>();
  const [outcome, setOutcome] = useState<Outcome>();
  const [reason, type] = useDraftText(`close ${view.id}`);
  const close = () => {
    if (!asked || !outcome) return;
    const body = { ...asked, outcome, reason: reason.trim() };
    commands.mutate([{ kind: "visit.closed", subject: { type: "visit", id: view.id }, body }], {
      onSuccess: () => {
        type("");
        setAsked(undefined);
      },
    });
  };
  return (
    <>
      <Button onClick={() => setAsked(closing)}>{t("close.open")}</Button>
      {asked && (
        <LayerDialog onClose={() => setAsked(undefined)} aria-labelledby="close-title">
          <DialogContent className="plan-form">
            <h1 id="close-title">{t("close.title", { name: view.names[view.visit.technician] })}</h1>
            <p className="small quiet">{t("close.hint", { time: timeOrDay(asked.end) })}</p>
            <div className="options">
              {outcomes.map((o) => (
                <button key={o} type="button" aria-pressed={outcome === o} onClick={() => setOutcome(o)}>
                  {t(`outcome.${o}`)}
                </button>
              ))}
            </div>
            <TextField label={t("strike.why")} value={reason} onChange={(e) => type(e.target.value)} />
            <Failure error={commands.error} />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setAsked(undefined)}>{t("choose.cancel")}</Button>
            <Button variant="contained" disabled={!outcome || commands.isPending} onClick={close}>
              {t("close.do")}
            </Button>
          </DialogActions>
        </LayerDialog>
      )}
    </>
  );
}
