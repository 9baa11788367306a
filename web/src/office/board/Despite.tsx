import { Button, DialogContent, TextField } from "@mui/material";
import type { FormEvent } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { Board } from "../../types";
import { LayerDialog } from "../../ui/Layers";
import { planReasons } from "../../ui/planReasons";
import { Failure } from "../queries";
import { FitLine } from "./Fit";
import type { Scale } from "./scale";
import { graveOf } from "./stops";
import type { Doubt } from "./usePlacing";

interface Props {
  doubt: Doubt;
  board: Board;
  scale: Scale;
  pending: boolean;
  error: unknown;
  onInsist: (doubt: Doubt, why: string) => Promise<void>;
  onClose: () => void;
}

/** Says what a plan goes against, and has it planned all the same: why stays with the visit. */
export function Despite({ doubt, board, scale, pending, error, onInsist, onClose }: Props) {
  const { t } = useTranslation();
  // What is typed stays when this is closed or the page goes, for the next try.
  const draft = useDraft(`against ${doubt.aim.id}`, { why: "" });
  const { why } = draft.value;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    onInsist(doubt, why).then(draft.clear, () => {}); // said below
  };
  return (
    <LayerDialog onClose={onClose} aria-labelledby="despite-title">
      <DialogContent>
        <form onSubmit={submit}>
          <h2 id="despite-title">{t("despite.title")}</h2>
          <p className="small">
            <FitLine fit={{ ...doubt.fit, why: [] }} board={board} scale={scale} />
          </p>
          <ul>
            {planReasons(graveOf(doubt.fit.why), board.skills).map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
          <TextField
            autoFocus
            fullWidth
            label={t("despite.why")}
            value={why}
            onChange={(e) => draft.change({ why: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 500 } }}
          />
          <Failure error={error} />
          <div className="plan-actions">
            <Button type="submit" variant="contained" disabled={pending}>
              {t("despite.plan")}
            </Button>
            <button type="button" className="link" onClick={onClose}>
              {t("choose.cancel")}
            </button>
          </div>
        </form>
      </DialogContent>
    </LayerDialog>
  );
}
