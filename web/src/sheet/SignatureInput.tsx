import { Button, TextField } from "@mui/material";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type SignaturePad from "signature_pad";
import { CoreError, core } from "../device/core";
import type { AnswerLine, Drawn, Question } from "../types";
import { Tag } from "../ui/Glyph";
import { Pad, strokesOf } from "../ui/Pad";
import { SignatureImage } from "../ui/SignatureImage";
import { say } from "../words/i18n";
import { useSheet } from "./source";

/** A signature for one question: who, and what they drew. */
export default function SignatureInput({ question: q, line }: { question: Question; line: AnswerLine }) {
  const { t } = useTranslation();
  const { answer } = useSheet();
  const [name, setName] = useState("");
  const [wrong, setWrong] = useState("");
  const pad = useRef<SignaturePad>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  if (line.value) {
    const drawn = JSON.parse(line.value) as Drawn;
    return (
      <figure className="signed">
        <SignatureImage strokes={drawn.strokes} />
        <figcaption className="small">{drawn.name}</figcaption>
      </figure>
    );
  }
  const save = () => {
    const strokes = strokesOf(pad.current, canvas.current?.clientWidth ?? 1);
    try {
      core("strokes", strokes);
    } catch (e) {
      setWrong(say(e instanceof CoreError ? e.code : { code: "unreadable" }));
      return;
    }
    if (!name.trim()) setWrong(say({ code: "signature.name" }));
    else void answer(q, line.item, JSON.stringify({ name: name.trim(), strokes }));
  };
  return (
    <div className="sheet-sign">
      <TextField
        label={t("sign.name")}
        value={name}
        onChange={(e) => setName(e.target.value)}
        slotProps={{ htmlInput: { autoComplete: "off", maxLength: 200 } }}
      />
      <Pad pad={pad} canvas={canvas} label={t("sign.pad")} onBegin={() => setWrong("")} />
      <p role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</p>
      <span className="line">
        <button type="button" className="link grow" onClick={() => pad.current?.clear()}>
          {t("sign.clear")}
        </button>
        <Button variant="contained" onClick={save}>
          {t("sign.save")}
        </Button>
      </span>
    </div>
  );
}
