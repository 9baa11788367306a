import { Button, TextField } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { CoreError, core } from "../device/core";
import type { AnswerLine, Code, Question } from "../types";
import { say } from "../words/i18n";
import { useAnswerDraft, useSheet } from "./source";

const Scan = lazy(() => import("../ui/Scan"));

/** A number, text, date or code, kept when the field is left. */
export function Typed({ question: q, line, labelledBy }: { question: Question; line: AnswerLine; labelledBy: string }) {
  const { t } = useTranslation();
  const { answer } = useSheet();
  const draft = useAnswerDraft<{ text?: string }>(q, line.item, "text", {});
  const { text } = draft.value;
  const [wrong, setWrong] = useState<Code>();
  const [scanning, setScanning] = useState(false);
  const number = q.kind === "number";
  const value = line.value ?? "";
  const leave = async (typed = text) => {
    if (typed === undefined) return;
    try {
      const canonical = core("answer", { question: q, value: typed }).value;
      setWrong(undefined);
      if ((canonical === value && !line.known) || (await answer(q, line.item, canonical))) draft.clear();
    } catch (e) {
      draft.change({ text: typed });
      setWrong(e instanceof CoreError ? e.code : { code: "unreadable" });
    }
  };
  const range = number && q.min !== undefined && q.max !== undefined && t("checks.range", { min: q.min, max: q.max, unit: q.unit ?? "" });
  return (
    <div className="typed-row">
      <TextField
        className="typed"
        value={text ?? value}
        type={q.kind === "date" ? "date" : q.kind === "datetime" ? "datetime-local" : "text"}
        onChange={(e) => draft.change({ text: e.target.value })}
        onBlur={() => void leave()}
        onKeyDown={(e) => e.key === "Enter" && q.kind !== "text" && void leave()}
        multiline={q.kind === "text"}
        error={!!wrong}
        helperText={wrong ? say(wrong) : range}
        slotProps={{
          input: q.unit && number ? { endAdornment: q.unit } : undefined,
          htmlInput: { "aria-labelledby": labelledBy, inputMode: number ? "decimal" : "text", autoComplete: "off", maxLength: number ? 30 : 6000 },
        }}
      />
      {q.kind === "scan" && (
        <Button variant="outlined" onClick={() => setScanning(true)}>
          {t("sheet.scan")}
        </Button>
      )}
      {scanning && (
        <Suspense fallback={null}>
          <Scan
            title={q.text}
            onText={(code) => {
              setScanning(false);
              void leave(code);
            }}
            onClose={() => setScanning(false)}
          />
        </Suspense>
      )}
    </div>
  );
}
