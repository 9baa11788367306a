import { Button, Dialog, TextField } from "@mui/material";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type SignaturePad from "signature_pad";
import { type CoreError, core } from "../../device/core";
import { where } from "../../device/record";
import type { VisitView } from "../../types";
import { Pad, strokesOf } from "../../ui/Pad";
import { SummaryPage } from "../../ui/SummaryPage";
import { say } from "../../words/i18n";
import { useRecord } from "../device";

/** The signer sees exactly what is signed; the signature is bound to it. */
export default function SignDialog({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  // What is shown when the dialog opens is what is signed, whatever happens behind it.
  const [shown] = useState({ summary: view.summary, digest: view.digest });
  const [name, setName] = useState("");
  const [role, setRole] = useState("");
  const [wrong, setWrong] = useState("");
  const pad = useRef<SignaturePad>(null);
  const canvas = useRef<HTMLCanvasElement>(null);

  const save = async () => {
    const strokes = strokesOf(pad.current, canvas.current?.clientWidth ?? 1);
    try {
      core("strokes", strokes);
    } catch (e) {
      setWrong(say((e as CoreError).code));
      return;
    }
    if (!name.trim()) {
      setWrong(say({ code: "signature.name" }));
      return;
    }
    if (await record("signoff.captured", view.id, { name: name.trim(), role: role.trim(), strokes, ...shown, where: where() })) onClose();
  };
  return (
    <Dialog open fullScreen onClose={onClose} aria-labelledby="sign-title">
      <div className="sign field">
        <div className="sign-shown">
          <h1 id="sign-title">{t("sign.title")}</h1>
          <p className="small quiet">{t("sign.intro")}</p>
          <SummaryPage summary={shown.summary} />
        </div>
        <div className="sign-form">
          <div className="sign-names">
            <TextField label={t("sign.name")} value={name} onChange={(e) => setName(e.target.value)} slotProps={{ htmlInput: { autoComplete: "off" } }} />
            <TextField
              label={t("sign.role")}
              value={role}
              onChange={(e) => setRole(e.target.value)}
              placeholder={t("sign.roleHint")}
              slotProps={{ htmlInput: { autoComplete: "off" } }}
            />
          </div>
          <Pad pad={pad} canvas={canvas} label={t("sign.pad")} onBegin={() => setWrong("")} />
          <div role="alert" className="tag bad">
            {wrong}
          </div>
          <div className="sign-actions">
            <button type="button" className="link" onClick={onClose}>
              {t("choose.cancel")}
            </button>
            <button type="button" className="link" onClick={() => pad.current?.fromData(pad.current.toData().slice(0, -1))}>
              {t("sign.undo")}
            </button>
            <button type="button" className="link" onClick={() => pad.current?.clear()}>
              {t("sign.clear")}
            </button>
            <Button variant="contained" onClick={save}>
              {t("sign.save")}
            </Button>
          </div>
        </div>
      </div>
    </Dialog>
  );
}
