/** The draft that somebody works on: what it comes to against the plan, and what can be done with it. */
import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useMe } from "../../session/session";
import type { PlanDraft } from "../../types";
import { time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Failure, useCommands } from "../queries";
import { Difference } from "./Difference";
import { PublishDraft } from "./PublishDraft";
import { draftOf } from "./usePlanDraft";

interface Props {
  draft: PlanDraft;
  shown: boolean;
  onShow: (yes: boolean) => void;
}

export function DraftStrip({ draft, shown, onShow }: Props) {
  const { t } = useTranslation();
  const [publishing, setPublishing] = useState(false);
  const commands = useCommands();
  const me = useMe()?.id ?? "";
  const visits = draft.lines.map((l) => l.visit);
  const under = draft.lines.filter((l) => l.now || l.gone || l.besides || l.over || l.cannot).length;
  if (!shown)
    return visits.length === 0 ? null : (
      <p className="draft-strip small">
        {t("plandraft.waits", { count: visits.length })} {draft.worked && t("plandraft.worked", { time: time(draft.worked) })}{" "}
        <Button onClick={() => onShow(true)}>{t("plandraft.goOn")}</Button>
      </p>
    );
  return (
    <section className="draft-strip small" aria-label={t("plandraft.title")}>
      <strong>{t("plandraft.title")}</strong>
      <span>{visits.length > 0 ? t("plandraft.changes", { count: visits.length }) : t("plandraft.empty")}</span>
      {visits.length > 0 && <Difference draft={draft} />}
      {draft.worked && <span className="quiet">{t("plandraft.worked", { time: time(draft.worked) })}</span>}
      {under > 0 && <Tag kind="bad">{t("plandraft.under", { count: under })}</Tag>}
      <span className="draft-acts">
        {visits.length > 0 && (
          <>
            <Button variant="contained" size="small" className="dense" onClick={() => setPublishing(true)}>
              {t("plandraft.look")}
            </Button>
            <button
              type="button"
              className="link"
              disabled={commands.isPending}
              onClick={() => commands.mutate([{ kind: "draft.dropped", subject: draftOf(me), body: { visits } }])}
            >
              {t("plandraft.throwAway")}
            </button>
          </>
        )}
        <button type="button" className="link" onClick={() => onShow(false)}>
          {t("plandraft.leave")}
        </button>
      </span>
      <Failure error={commands.error} />
      {publishing && <PublishDraft draft={draft} onClose={() => setPublishing(false)} onDone={() => onShow(false)} />}
    </section>
  );
}
