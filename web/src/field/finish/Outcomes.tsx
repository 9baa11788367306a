/** How a visit ends: what is still missing is said first, and what the next visit needs is asked for. */
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Lacking, Outcome, OutcomeRule, StepTaken, VisitView } from "../../types";
import { Tag } from "../../ui/Glyph";
import { ChoiceList } from "../ChoiceList";
import { useSettings, useVisit } from "../device";
import { NextVisit } from "./NextVisit";
import { endOf, endsNow } from "./outcomes";
import { JumpTo, LeaveOut } from "./ReadyList";

interface Props {
  visit: string;
  onChoose: (body: StepTaken) => void;
  onClose: () => void;
}

export function Outcomes({ visit, onChoose, onClose }: Props) {
  const { t } = useTranslation();
  const settings = useSettings();
  const view = useVisit(visit);
  const [why, setWhy] = useState<OutcomeRule>();
  const [next, setNext] = useState<{ outcome: OutcomeRule; reason?: string }>();
  const [leaving, setLeaving] = useState<OutcomeRule>();
  // The signature is asked for when the visit has ended.
  const open = view?.ready.lacking.filter((l) => !l.skip && l.check !== "signature") ?? [];
  if (!view) return null;
  const outcomes = endsNow(settings, view);
  const end = (o: OutcomeRule, more: StepTaken = {}) => onChoose(endOf(o, view, more));
  const required = open.filter((l) => l.duty === "required");
  const asked = open.filter((l) => l.duty === "asked");
  const choose = (o: OutcomeRule) => {
    if (o.ready && asked.length > 0) setLeaving(o);
    else if (o.id === "return_needed") setWhy(o);
    else if (o.followUp) setNext({ outcome: o });
    else end(o);
  };
  if (leaving) return <LeaveOut view={view} what={asked} onDone={() => end(leaving)} onClose={() => setLeaving(undefined)} />;
  if (next) return <NextVisit view={view} onDone={(needed) => end(next.outcome, { reason: next.reason, needed })} onBack={() => setNext(undefined)} />;
  if (why) {
    return (
      <ChoiceList
        title={t("finish.why")}
        items={(settings?.visits.returns ?? []).map((r) => ({ id: r.id, text: r.text }))}
        onPick={(reason) => (why.followUp ? setNext({ outcome: why, reason }) : end(why, { reason }))}
        onClose={() => setWhy(undefined)}
        close={t("choose.back")}
      />
    );
  }
  return (
    <>
      <Open view={view} open={open} blocked={required.length > 0} onJump={onClose} />
      <ChoiceList
        title={t("finish.how")}
        items={outcomes.map((o) => ({
          id: o.id,
          text: o.text || t(`outcome.${o.id as Outcome}`),
          hint: o.text ? undefined : t(`outcomeHint.${o.id as Outcome}`),
        }))}
        onPick={(id) => choose(outcomes.find((o) => o.id === id)!)}
        onClose={onClose}
        close={t("choose.cancel")}
      />
    </>
  );
}

/** What is still missing, each a way to it; the first few when there are many. */
function Open({ view, open, blocked, onJump }: { view: VisitView; open: Lacking[]; blocked: boolean; onJump: () => void }) {
  const { t } = useTranslation();
  const most = 5;
  if (open.length === 0) return null;
  return (
    <div className="choices-note">
      <p className="small">{t(blocked ? "finish.blocked" : "finish.still")}</p>
      {open.slice(0, most).map((l) => (
        <JumpTo key={l.key} view={view} lacking={l} onJump={onJump} />
      ))}
      {open.length > most && (
        <p className="small quiet">
          <Tag kind="warn">{t("finish.more", { count: open.length - most })}</Tag>
        </p>
      )}
    </div>
  );
}
