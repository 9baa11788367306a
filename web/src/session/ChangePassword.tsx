import { Button, DialogActions, DialogContent, DialogTitle, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { Tag } from "../ui/Glyph";
import { LayerDialog } from "../ui/Layers";
import { say } from "../words/i18n";
import { act } from "./api";
import { ApiError } from "./session";

/** Changes the password of whoever is signed in. Their other devices must sign in again. */
export default function ChangePassword({ onClose }: { onClose: (changed: boolean) => void }) {
  const { t } = useTranslation();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    setBusy(true);
    setWrong("");
    try {
      await act("/api/password", {}, { old, new: fresh });
      onClose(true);
    } catch (problem) {
      setWrong(say(problem instanceof ApiError ? problem.problem : { code: "unreadable" }));
      setBusy(false);
    }
  };
  return (
    <LayerDialog onClose={() => onClose(false)} fullWidth maxWidth="xs">
      <form onSubmit={submit}>
        <DialogTitle>{t("password.title")}</DialogTitle>
        <DialogContent>
          <div className="form-stack">
            <p className="quiet">{t("password.hint")}</p>
            <TextField
              label={t("password.old")}
              type="password"
              autoComplete="current-password"
              value={old}
              onChange={(e) => setOld(e.target.value)}
              required
              autoFocus
            />
            <TextField
              label={t("password.new")}
              helperText={t("password.rule")}
              type="password"
              autoComplete="new-password"
              value={fresh}
              onChange={(e) => setFresh(e.target.value)}
              required
            />
            <div role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</div>
          </div>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => onClose(false)}>{t("choose.cancel")}</Button>
          <Button type="submit" variant="contained" disabled={!old || !fresh || busy}>
            {t("password.go")}
          </Button>
        </DialogActions>
      </form>
    </LayerDialog>
  );
}
