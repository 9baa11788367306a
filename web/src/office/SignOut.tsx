import { Button, DialogActions, DialogContent, DialogContentText, DialogTitle } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { leave } from "../device/wipe";
import type { Me } from "../types";
import { LayerDialog } from "../ui/Layers";
import { forget, untilKept } from "./acknowledged";

/** Signs out of the office. What is on its one disk alone is said first: this browser could give it again. */
export function SignOut({ me }: { me: Me }) {
  const { t } = useTranslation();
  const [busy, setBusy] = useState(false);
  const [alone, setAlone] = useState(0);
  const go = async () => {
    await forget(me.id).catch(() => {});
    await leave(undefined);
  };
  const begin = async () => {
    setBusy(true);
    const left = await untilKept(me.id).catch(() => 0); // a browser that keeps nothing has nothing to lose
    if (left === 0) return void go();
    setBusy(false);
    setAlone(left);
  };
  return (
    <>
      <button type="button" className="link" disabled={busy} onClick={begin}>
        {t("signin.out")}
      </button>
      {alone > 0 && (
        <LayerDialog onClose={() => setAlone(0)}>
          <DialogTitle>{t("leave.alone", { count: alone })}</DialogTitle>
          <DialogContent>
            <DialogContentText>{t("leave.aloneHint")}</DialogContentText>
          </DialogContent>
          <DialogActions>
            <Button variant="contained" onClick={() => setAlone(0)}>
              {t("leave.stay")}
            </Button>
            <Button onClick={() => void go()}>{t("leave.go")}</Button>
          </DialogActions>
        </LayerDialog>
      )}
    </>
  );
}
