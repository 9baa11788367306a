/** All changes of a draft, with what became of their visits meanwhile: published together, or left out one by one. */
import { Button, Checkbox, DialogContent, FormControlLabel } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useMay, useMe } from "../../session/session";
import type { DraftLine, EntryDraft, PlanDraft } from "../../types";
import { duration, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LayerDialog } from "../../ui/Layers";
import { say } from "../../words/i18n";
import { Failure, useCommands } from "../queries";
import { Difference } from "./Difference";
import { draftOf } from "./usePlanDraft";

interface Props {
  draft: PlanDraft;
  onClose: () => void;
  onDone: () => void;
}

export function PublishDraft({ draft, onClose, onDone }: Props) {
  const { t } = useTranslation();
  const commands = useCommands();
  const me = useMe()?.id ?? "";
  const mayDrop = useMay("draft.dropped");
  const [tell, setTell] = useState(true);
  const can = draft.lines.filter((l) => !l.cannot);
  const leaveOut = (l: DraftLine) => commands.mutate([{ kind: "draft.dropped", subject: draftOf(me), body: { visits: [l.visit] } }]);
  const publish = async () => {
    await commands.mutateAsync(published(can, me, tell));
    onClose();
    if (can.length === draft.lines.length) onDone();
  };
  return (
    <LayerDialog onClose={onClose} maxWidth="md" fullWidth aria-labelledby="publish-title">
      <DialogContent>
        <h2 id="publish-title">{t("plandraft.publishTitle")}</h2>
        <p className="small">
          <Difference draft={draft} />
        </p>
        <ul className="draft-lines">
          {draft.lines.map((l) => (
            <li key={l.visit}>
              <span>
                <b>{l.order.site}</b> <span className="quiet">{l.order.problem}</span>
                <span className="block small">
                  <Change line={l} />
                </span>
                <Underneath line={l} />
              </span>
              {mayDrop && (
                <Button size="small" disabled={commands.isPending} onClick={() => leaveOut(l)} aria-label={t("plandraft.leaveOutOf", { site: l.order.site })}>
                  {t("plandraft.leaveOut")}
                </Button>
              )}
            </li>
          ))}
        </ul>
        <FormControlLabel control={<Checkbox checked={tell} onChange={(e) => setTell(e.target.checked)} />} label={t("plandraft.tell")} />
        {can.length < draft.lines.length && <p className="small">{t("plandraft.stays", { count: draft.lines.length - can.length })}</p>}
        <Failure error={commands.error} />
        <div className="plan-actions">
          <Button variant="contained" disabled={commands.isPending || can.length === 0} onClick={() => publish().catch(() => {})}>
            {t("plandraft.publish", { count: can.length })}
          </Button>
          <button type="button" className="link" onClick={onClose}>
            {t("choose.cancel")}
          </button>
        </div>
      </DialogContent>
    </LayerDialog>
  );
}

/**
 * The commands that publish changes, in one batch. The draft ends first: taken back, the plan is changed back before the draft is made from
 * it again. Visits that are planned are sent too, if those who go are to be told at once.
 */
export function published(lines: DraftLine[], me: string, tell: boolean): EntryDraft[] {
  const ended: EntryDraft = { kind: "draft.published", subject: draftOf(me), body: { visits: lines.map((l) => l.visit) } };
  const sent = tell ? lines.filter((l) => l.plan || (l.move && l.was?.stage === "planned")) : [];
  return [
    ended,
    ...lines.flatMap((l) => l.commands as unknown as EntryDraft[]),
    ...sent.map((l): EntryDraft => ({ kind: "visit.sent", subject: { type: "visit", id: l.visit }, body: {} })),
  ];
}

/** From whom and when to whom and when. */
function Change({ line: l }: { line: DraftLine }) {
  const { t } = useTranslation();
  const to = l.plan ?? l.move;
  const was = l.was && !l.plan ? `${l.wasName} ${timeOrDay(l.was.start)}` : t("plandraft.toPlace");
  return (
    <>
      {was} →{" "}
      {to
        ? `${l.name || t("plandraft.offered", { count: l.plan?.offer?.length ?? 0 })} ${timeOrDay(to.start)}, ${duration(to.minutes * 60)}`
        : t("plandraft.withdrawn")}
    </>
  );
}

/** What became of a visit since the change was made, and why it can't be published. */
function Underneath({ line: l }: { line: DraftLine }) {
  const { t } = useTranslation();
  return (
    <>
      {l.gone && <Tag kind="bad">{t("plandraft.gone")}</Tag>}
      {l.now && (
        <Tag kind="warn">
          {t("plandraft.now", { name: l.nowName || t("plandraft.nobody"), time: timeOrDay(l.now.start), stage: t(`stage.${l.now.stage}`) })}
        </Tag>
      )}
      {l.besides && <Tag kind="bad">{t("plandraft.besides")}</Tag>}
      {l.over && <Tag kind="bad">{t("plandraft.closed")}</Tag>}
      {l.cannot && <span className="small block bad-words">{say(l.cannot)}</span>}
    </>
  );
}
