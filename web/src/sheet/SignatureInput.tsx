import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { CoreError, core } from "../device/core";
import type { AnswerLine, Drawn, Question } from "../types";
import { Tag } from "../ui/Glyph";
import { noInk, Pad, strokesOf } from "../ui/Pad";
import { SignatureImage } from "../ui/SignatureImage";
import { say } from "../words/i18n";
import { useAnswerDraft, useSheet } from "./source";

/** A signature for one question: who, and what they drew. */
export default function SignatureInput({ question: q, line }: { question: Question; line: AnswerLine }) {
  const { t } = useTranslation();
  const { answer } = useSheet();
  const draft = useAnswerDraft(q, line.item, "signature", { name: "", ink: noInk });
  const { name, ink } = draft.value;
  const [wrong, setWrong] = useState("");
  if (line.value) {
    const drawn = JSON.parse(line.value) as Drawn;
    return (
      <figure className="signed">
        <SignatureImage strokes={drawn.strokes} />
        <figcaption className="small">
          {drawn.name} {line.changed && <Tag kind="warn">{t("sign.changed")}</Tag>}
        </figcaption>
      </figure>
    );
  }
  const save = async () => {
    const strokes = strokesOf(ink);
    try {
      core("strokes", strokes);
    } catch (e) {
      setWrong(say(e instanceof CoreError ? e.code : { code: "unreadable" }));
      return;
    }
    if (!name.trim()) setWrong(say({ code: "signature.name" }));
    else if (await answer(q, line.item, JSON.stringify({ name: name.trim(), strokes }))) draft.clear();
  };
  return (
    <div className="sheet-sign">
      <TextField
        label={t("sign.name")}
        value={name}
        onChange={(e) => draft.change({ name: e.target.value })}
        slotProps={{ htmlInput: { autoComplete: "off", maxLength: 200 } }}
      />
      <Pad
        ink={ink}
        label={t("sign.pad")}
        onInk={(ink) => {
          draft.change({ ink });
          setWrong("");
        }}
      />
      <p role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</p>
      <span className="line">
        <button type="button" className="link grow" onClick={() => draft.change({ ink: noInk })}>
          {t("sign.clear")}
        </button>
        <Button variant="contained" onClick={save}>
          {t("sign.save")}
        </Button>
      </span>
    </div>
  );
}
