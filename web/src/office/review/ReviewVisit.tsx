import { Button, TextField } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate, useParams } from "react-router";
import type { FinishedLine } from "../../types";
import { Failure, useCommands, useFinished } from "../queries";
import { VisitBody } from "../VisitPage";

/** One finished visit after another: everything in one view, what to look at first, approve or ask. */
export function ReviewVisit() {
  const { id = "" } = useParams();
  const lines = useFinished().data;
  return (
    <main className="visit-page">
      <Bar key={id} id={id} lines={lines ?? []} />
      <VisitBody id={id} reviewing />
    </main>
  );
}

function Bar({ id, lines }: { id: string; lines: FinishedLine[] }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const commands = useCommands();
  const [asking, setAsking] = useState(false);
  const at = lines.findIndex((l) => l.id === id);
  const go = (line: FinishedLine | undefined) => navigate(line ? `/office/review/${line.id}` : "/office/review");
  const next = lines[at + 1];
  const previous = at > 0 ? lines[at - 1] : undefined;
  const subject = { type: "visit", id };
  const approve = () => {
    const then = next ?? previous;
    commands.mutate([{ kind: "visit.reviewed", subject, body: {} }], { onSuccess: () => go(then) });
  };
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest("input, textarea, select, [role=dialog]");
      if (typing || e.ctrlKey || e.metaKey || e.altKey || at < 0) return;
      if (e.key === "j" && next) go(next);
      else if (e.key === "k" && previous) go(previous);
      else if (e.key === "a" && !commands.isPending) approve();
      else if (e.key === "q") setAsking(true);
      else return;
      e.preventDefault();
      e.stopPropagation();
    };
    addEventListener("keydown", press, true);
    return () => removeEventListener("keydown", press, true);
  });
  return (
    <div className="review-bar">
      <Link to="/office/review" className="link">
        {t("review.list")}
      </Link>
      {at >= 0 && (
        <>
          <span className="quiet">{t("review.position", { at: at + 1, of: lines.length })}</span>
          <span className="review-bar-acts">
            <Button disabled={!previous} onClick={() => go(previous)}>
              {t("review.previous")} <kbd>k</kbd>
            </Button>
            <Button disabled={!next} onClick={() => go(next)}>
              {t("review.next")} <kbd>j</kbd>
            </Button>
            <Button onClick={() => setAsking(!asking)} aria-expanded={asking} disabled={lines[at].asked}>
              {t(lines[at].asked ? "asks.waits" : "asks.ask")} <kbd>q</kbd>
            </Button>
            <Button variant="contained" disabled={commands.isPending} onClick={approve}>
              {t("review.approve")} <kbd>a</kbd>
            </Button>
          </span>
        </>
      )}
      <Failure error={commands.error} />
      {asking && <Ask id={id} onDone={() => setAsking(false)} />}
    </div>
  );
}

/** Sends the visit back to whoever did it, with a question. */
function Ask({ id, onDone }: { id: string; onDone: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [text, setText] = useState("");
  return (
    <form
      className="attention-handle"
      onSubmit={(e) => {
        e.preventDefault();
        commands.mutate([{ kind: "visit.questioned", subject: { type: "visit", id }, body: { text: text.trim() } }], { onSuccess: onDone });
      }}
    >
      <TextField
        label={t("asks.text")}
        value={text}
        onChange={(e) => setText(e.target.value)}
        autoFocus
        multiline
        slotProps={{ htmlInput: { maxLength: 1000 } }}
      />
      <Button type="submit" variant="contained" disabled={!text.trim() || commands.isPending}>
        {t("asks.ask")}
      </Button>
      <button type="button" className="link" onClick={onDone}>
        {t("choose.cancel")}
      </button>
      <Failure error={commands.error} />
    </form>
  );
}
