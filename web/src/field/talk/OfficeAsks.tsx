import { Button, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraftText } from "../../draft/draft";
import type { VisitView } from "../../types";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useRecord } from "../device";

/** What the office asks about a visit that it has sent back, until it is answered; and what was answered. */
export function OfficeAsks({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const record = useRecord();
  const all = view.visit.questions ?? [];
  const open = all.find((q) => !q.answeredAt);
  const [text, type] = useDraftText(`answer ${view.id}`);
  if (all.length === 0) return null;
  const answer = async () => {
    if (await record("question.answered", view.id, { question: open!.entry, text: text.trim() })) type("");
  };
  return (
    <section className="sec asks" aria-label={t("asks.title")}>
      {all.map((q) => (
        <div key={q.entry}>
          <p>
            {q === open ? <Tag kind="bad">{t("asks.title")}</Tag> : <Tag kind="good">{t("asks.answered")}</Tag>}
            <span className="block pre">{q.text}</span>
            <span className="tiny quiet block">
              {view.names[q.person] ?? q.person} · {timeOrDay(q.at)}
            </span>
            {q.answer && <span className="block pre quiet">{q.answer}</span>}
          </p>
        </div>
      ))}
      {open && (
        <form
          className="note-entry"
          onSubmit={(e) => {
            e.preventDefault();
            void answer();
          }}
        >
          <TextField
            label={t("asks.answer")}
            value={text}
            onChange={(e) => type(e.target.value)}
            multiline
            minRows={2}
            slotProps={{ htmlInput: { maxLength: 5000 } }}
          />
          <Button type="submit" variant="contained" disabled={!text.trim()}>
            {t("asks.send")}
          </Button>
          <p className="small quiet">{t("asks.hint")}</p>
        </form>
      )}
    </section>
  );
}
