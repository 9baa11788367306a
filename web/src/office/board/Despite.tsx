import { Button, DialogContent, TextField } from "@mui/material";
import type { FormEvent, ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { LayerDialog } from "../../ui/Layers";
import { Failure } from "../queries";

interface Props {
  id: string; // of what is placed
  /** where it is placed */
  children: ReactNode;
  reasons: string[];
  pending: boolean;
  error: unknown;
  onInsist: (why: string) => Promise<void>;
  onClose: () => void;
}

/** Says what a plan goes against, and has it planned all the same: why stays with the visit. */
export function Despite({ id, children, reasons, pending, error, onInsist, onClose }: Props) {
  const { t } = useTranslation();
  // What is typed stays when this is closed or the page goes, for the next try.
  const draft = useDraft(`against ${id}`, { why: "" });
  const { why } = draft.value;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    onInsist(why).then(draft.clear, () => {}); // said below
  };
  return (
    <LayerDialog onClose={onClose} aria-labelledby="despite-title">
      <DialogContent>
        <form onSubmit={submit}>
          <h2 id="despite-title">{t("despite.title")}</h2>
          <p className="small">{children}</p>
          <ul>
            {reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
          <TextField
            autoFocus
            fullWidth
            margin="normal"
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
