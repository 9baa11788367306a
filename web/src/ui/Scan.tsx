/** Reads labels with the camera: our own, and those that parts come with. */

import { BrowserMultiFormatReader } from "@zxing/browser";
import { BarcodeFormat, DecodeHintType } from "@zxing/library";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { ChoiceDrawer } from "./ChoiceDrawer";

/** The labels there are, looked for with care. */
const formats = [
  BarcodeFormat.QR_CODE,
  BarcodeFormat.CODE_128,
  BarcodeFormat.EAN_13,
  BarcodeFormat.EAN_8,
  BarcodeFormat.UPC_A,
  BarcodeFormat.ITF,
  BarcodeFormat.DATA_MATRIX,
];
const hints = new Map<DecodeHintType, unknown>([
  [DecodeHintType.POSSIBLE_FORMATS, formats],
  [DecodeHintType.TRY_HARDER, true],
]);

interface Props {
  title: string;
  onText: (text: string) => void;
  onClose: () => void;
}

export default function Scan({ title, onText, onClose }: Props) {
  const { t } = useTranslation();
  return (
    <ChoiceDrawer title={title} tall onClose={onClose}>
      <Camera onText={onText} />
      <p className="small quiet">{t("scan.hint")}</p>
    </ChoiceDrawer>
  );
}

/** The camera's picture, looked at for labels; each is told once while it is in view. */
export function Camera({ onText }: { onText: (text: string) => void }) {
  const { t } = useTranslation();
  const video = useRef<HTMLVideoElement>(null);
  const [failed, setFailed] = useState(false);
  const told = useRef(onText);
  told.current = onText;
  useEffect(() => {
    let over = false;
    let stop = () => {};
    const reader = new BrowserMultiFormatReader(hints, { delayBetweenScanAttempts: 150, delayBetweenScanSuccess: 1500 });
    reader
      .decodeFromConstraints({ video: { facingMode: "environment" } }, video.current ?? undefined, (result) => {
        if (result && !over) told.current(result.getText());
      })
      .then((controls) => {
        stop = () => controls.stop();
        if (over) stop();
      })
      .catch(() => !over && setFailed(true));
    return () => {
      over = true;
      stop();
    };
  }, []);
  if (failed) return <p className="empty">{t("scan.failed")}</p>;
  return <video ref={video} className="camera" muted playsInline />;
}
