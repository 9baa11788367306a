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

/** How long after a look at the picture the next one comes, in milliseconds, and how long after a label was read. */
const again = 150;
const afterLabel = 1500;

/** After so many milliseconds without a picture the camera is asked for one anew: some begin and give none. */
const dark = 5000;

/** The camera's picture, looked at for labels; one that stays in view is told again after a while. onNothing is told that there was none. */
export function Camera({ onText, onNothing }: { onText: (text: string) => void; onNothing?: () => void }) {
  const { t } = useTranslation();
  const video = useRef<HTMLVideoElement>(null);
  const [failed, setFailed] = useState(false);
  const told = useRef({ onText, onNothing });
  told.current = { onText, onNothing };
  useEffect(() => {
    let over = false;
    let timer: ReturnType<typeof setTimeout>;
    let stream: MediaStream | undefined;
    const stop = () => {
      over = true;
      clearTimeout(timer);
      for (const track of stream?.getTracks() ?? []) track.stop();
    };
    const read = reader();
    let asked = 0; // when the camera was
    const look = (picture: HTMLVideoElement) => {
      if (picture.readyState < HTMLMediaElement.HAVE_CURRENT_DATA) {
        if (performance.now() - asked < dark) {
          timer = setTimeout(look, again, picture); // the camera begins
          return;
        }
        for (const track of stream?.getTracks() ?? []) track.stop();
        start();
        return;
      }
      const began = performance.now();
      const text = read(picture);
      const took = performance.now() - began; // on a slow machine taps need their time too
      if (text) told.current.onText(text);
      else told.current.onNothing?.();
      if (!over) timer = setTimeout(look, text ? afterLabel : Math.max(again, 2 * took), picture);
    };
    const begin = async () => {
      stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: "environment" } });
      if (over || !video.current) return stop();
      video.current.srcObject = stream;
      asked = performance.now();
      look(video.current); // whether it says that it plays or not: a picture is enough
      await video.current.play().catch((e) => {
        if (e?.name !== "AbortError") throw e; // it was asked anew meanwhile
      });
    };
    const start = () => void begin().catch(() => !over && setFailed(true));
    start();
    return stop;
  }, []);
  if (failed) return <p className="empty">{t("scan.failed")}</p>;
  return <video ref={video} className="camera" muted playsInline />;
}

/** Reads the label on what a video shows now; "" when there is none, or none that can be read. */
function reader(): (picture: HTMLVideoElement) => string {
  const labels = new BrowserMultiFormatReader(hints);
  const canvas = document.createElement("canvas");
  const ink = canvas.getContext("2d", { willReadFrequently: true });
  return (picture) => {
    [canvas.width, canvas.height] = [picture.videoWidth, picture.videoHeight];
    ink?.drawImage(picture, 0, 0);
    try {
      return labels.decodeFromCanvas(canvas).getText();
    } catch {
      return ""; // the library throws whatever it stumbled on: the next picture may do
    }
  };
}
