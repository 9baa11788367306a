import { Button, DialogActions, DialogContent, DialogContentText, DialogTitle } from "@mui/material";
import { type ReactNode, useId } from "react";
import { useTranslation } from "react-i18next";
import { LayerDialog } from "./Layers";

interface Props {
  title: string;
  /** what follows from it */
  text?: string;
  /** what is done about it, as a verb */
  act: string;
  /** what leaves all as it is; Cancel when left out */
  stay?: string;
  /** whether staying is what most people mean */
  rather?: "stay";
  busy?: boolean;
  onAct: () => void;
  onClose: () => void;
  children?: ReactNode;
}

/** Asks before something is done that can't be taken back. Back and Escape leave all as it is. */
export function Confirm({ title, text, act, stay, rather, busy, onAct, onClose, children }: Props) {
  const { t } = useTranslation();
  const id = useId();
  const go = (
    <Button variant={rather ? "outlined" : "contained"} disabled={busy} onClick={onAct}>
      {act}
    </Button>
  );
  const back = (
    <Button variant={rather ? "contained" : "outlined"} onClick={onClose}>
      {stay ?? t("choose.cancel")}
    </Button>
  );
  return (
    <LayerDialog onClose={onClose} aria-labelledby={id}>
      <DialogTitle id={id}>{title}</DialogTitle>
      <DialogContent>
        {text && <DialogContentText>{text}</DialogContentText>}
        {children}
      </DialogContent>
      <DialogActions>
        {back}
        {go}
      </DialogActions>
    </LayerDialog>
  );
}
