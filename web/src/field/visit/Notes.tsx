import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraftText } from "../../draft/draft";
import type { VisitView } from "../../types";
import { useDictation } from "../../ui/dictation";
import { time } from "../../ui/format";
import { isLater } from "../../ui/later";
import { useRecord, useSettings } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

export function Notes({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const record = useRecord();
  const [text, type] = useDraftText(`note ${view.id}`);
  const [office, setOffice] = useState(false);
  const phrases = useSettings()?.orders.phrases ?? [];
  const dictate = useDictation((said) => type(text.trim() ? `${text.trim()} ${said}` : said));
  const save = async () => {
    if (!(await record("note.written", view.id, { text: text.trim(), office: office || undefined }))) return;
    type("");
    setOffice(false);
  };
  const notes = view.visit.notes ?? [];
  return (
    <VisitSection id="notes" title={t("visit.notes")}>
      {notes.length === 0 && <p className="quiet small">{t("notes.none")}</p>}
      {notes.map((n) => (
        <div className="line" key={n.entry}>
          <span className={`grow pre${n.struck ? " struck" : ""}`}>
            {n.text}
            <span className="tiny quiet block">
              {view.names[n.person]} · {time(n.at)}
              {n.office && ` · ${t("notes.forOffice")}`}
              {isLater(view, n.at) && ` · ${t("page.later")}`}
            </span>
          </span>
          <StrikeOut view={view} line={n} kind="note.written" />
        </div>
      ))}
      <div className="note-entry">
        <TextField
          label={t("notes.add")}
          value={text}
          onChange={(e) => type(e.target.value)}
          multiline
          minRows={2}
          slotProps={{ htmlInput: { maxLength: 30_000 } }}
        />
        <span className="further">
          <button type="button" className="chip" aria-pressed={office} onClick={() => setOffice(!office)}>
            {t("notes.forOffice")}
          </button>
          {phrases.map((p) => (
            <button type="button" className="chip" key={p} onClick={() => type(text.trim() ? `${text.trim()} ${p}` : p)}>
              {p}
            </button>
          ))}
          {dictate && (
            <button type="button" className="chip" aria-pressed={dictate.on} onClick={dictate.turn}>
              {t(dictate.on ? "notes.listening" : "notes.dictate")}
            </button>
          )}
        </span>
        <Button variant={text.trim() ? "contained" : "outlined"} disabled={!text.trim()} onClick={save}>
          {t("notes.save")}
        </Button>
      </div>
    </VisitSection>
  );
}
