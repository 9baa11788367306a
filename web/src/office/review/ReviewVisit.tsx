import { Button, TextField } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate, useParams } from "react-router";
import { useDraftText } from "../../draft/draft";
import { useMay } from "../../session/session";
import type { FinishedLine } from "../../types";
import { Failure, useCommands, useFinished } from "../queries";
import { VisitBody } from "../VisitPage";

/** One finished visit after another: everything in one view, what to look at first, approve or ask. */
export function ReviewVisit() {
  const { id = "" } = useParams();
  const lines = useFinished().data;
  return (
    <main className="visit-page">
      <Bar id={id} lines={lines ?? []} />
      <VisitBody id={id} reviewing />
    </main>
  );
}

function Bar({ id, lines }: { id: string; lines: FinishedLine[] }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const commands = useCommands();
  const [asking, setAsking] = useState(""); // about which visit
  // Keys may come quicker than pages: they count from where the last one led to.
  const heading = useRef(id);
  useEffect(() => {
    heading.current = id;
  }, [id]);
  const [mayApprove, mayAsk] = [useMay("visit.reviewed"), useMay("visit.questioned")];
  const at = lines.findIndex((l) => l.id === id);
  const go = (line: FinishedLine | undefined) => {
    heading.current = line?.id ?? "";
    setAsking("");
    navigate(line ? `/office/review/${line.id}` : "/office/review");
  };
  const step = (by: number) => {
    const from = lines.findIndex((l) => l.id === heading.current);
    if (from >= 0 && lines[from + by]) go(lines[from + by]);
  };
  const approve = () => {
    const then = lines[at + 1] ?? lines[at - 1];
    commands.mutate([{ kind: "visit.reviewed", subject: { type: "visit", id }, body: {} }], { onSuccess: () => go(then) });
  };
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest("input, textarea, select, [role=dialog]");
      if (typing || e.ctrlKey || e.metaKey || e.altKey || at < 0) return;
      const shown = heading.current === id; // nobody approves what they have not seen
      if (e.key === "j") step(1);
      else if (e.key === "k") step(-1);
      else if (e.key === "a" && mayApprove && shown && !commands.isPending) approve();
      else if (e.key === "q" && mayAsk) setAsking(heading.current);
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
            <Button disabled={at === 0} onClick={() => step(-1)}>
              {t("review.previous")} <kbd>k</kbd>
            </Button>
            <Button disabled={at === lines.length - 1} onClick={() => step(1)}>
              {t("review.next")} <kbd>j</kbd>
            </Button>
            <Button onClick={() => setAsking(asking ? "" : id)} aria-expanded={asking === id} disabled={lines[at].asked || !mayAsk}>
              {t(lines[at].asked ? "asks.waits" : "asks.ask")} <kbd>q</kbd>
            </Button>
            <Button variant="contained" disabled={commands.isPending || !mayApprove} onClick={approve}>
              {t("review.approve")} <kbd>a</kbd>
            </Button>
          </span>
        </>
      )}
      <Failure error={commands.error} />
      {asking === id && <Ask key={id} id={id} onDone={() => setAsking("")} />}
    </div>
  );
}

/** Sends the visit back to whoever did it, with a question. */
function Ask({ id, onDone }: { id: string; onDone: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [text, type] = useDraftText(`question about ${id}`);
  const asked = () => {
    type("");
    onDone();
  };
  return (
    <form
      className="attention-handle"
      onKeyDown={(e) => e.key === "Escape" && onDone()}
      onSubmit={(e) => {
        e.preventDefault();
        commands.mutate([{ kind: "visit.questioned", subject: { type: "visit", id }, body: { text: text.trim() } }], { onSuccess: asked });
      }}
    >
      <TextField
        label={t("asks.text")}
        value={text}
        onChange={(e) => type(e.target.value)}
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
