/** What a step still needs to know: how it ended, or why. One tap each. */
import { Drawer } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Action, Outcome, Reason, StepTaken } from "../types";
import { Tag } from "../ui/Glyph";
import { say } from "../words/i18n";
import { usePolicy, useVisit } from "./device";

const outcomes: Outcome[] = ["complete", "return_needed", "no_access", "not_needed"];

interface Props {
  action: Action;
  visit: string;
  onChoose: (body: StepTaken) => void;
  onClose: () => void;
}

export default function ActionDrawer({ action, visit, onChoose, onClose }: Props) {
  return (
    <Drawer anchor="bottom" open onClose={onClose}>
      <div className="choices field">
        {action === "finished" ? (
          <Outcomes visit={visit} onChoose={onChoose} onClose={onClose} />
        ) : (
          <Reasons action={action} onChoose={onChoose} onClose={onClose} />
        )}
      </div>
    </Drawer>
  );
}

function Outcomes({ visit, onChoose, onClose }: Omit<Props, "action">) {
  const { t } = useTranslation();
  const policy = usePolicy();
  const missing = useVisit(visit)?.missing ?? [];
  const blocked = missing.some((m) => m.code === "missing.blocked");
  const [returning, setReturning] = useState(false);
  if (returning) {
    return (
      <List
        title={t("finish.why")}
        items={(policy?.returns ?? []).map((r) => ({ id: r.id, text: r.text }))}
        onPick={(id) => onChoose({ outcome: "return_needed", reason: id })}
        onClose={() => setReturning(false)}
        close={t("choose.back")}
      />
    );
  }
  return (
    <>
      {missing.length > 0 && (
        <div className="choices-note">
          <p className="small">{t(blocked ? "finish.blocked" : "finish.still")}</p>
          {missing.map((m) => (
            <p key={m.code + JSON.stringify(m.args)}>
              <Tag kind="warn">{say(m)}</Tag>
            </p>
          ))}
        </div>
      )}
      <List
        title={t("finish.how")}
        items={outcomes.filter((o) => o !== "complete" || !blocked).map((o) => ({ id: o, text: t(`outcome.${o}`), hint: t(`outcomeHint.${o}`) }))}
        onPick={(o) => (o === "return_needed" ? setReturning(true) : onChoose({ outcome: o as Outcome }))}
        onClose={onClose}
        close={t("choose.cancel")}
      />
    </>
  );
}

function Reasons({ action, onChoose, onClose }: Omit<Props, "visit">) {
  const { t } = useTranslation();
  const policy = usePolicy();
  const reasons: Reason[] = (action === "paused" ? policy?.pauses : policy?.declines) ?? [];
  return (
    <List
      title={t(action === "paused" ? "pause.why" : "decline.why")}
      items={reasons.map((r) => ({ id: r.id, text: r.text }))}
      onPick={(id) => onChoose({ reason: id, clock: action === "paused" ? reasons.find((r) => r.id === id)?.clock : undefined })}
      onClose={onClose}
      close={t("choose.cancel")}
    />
  );
}

interface Item {
  id: string;
  text: string;
  hint?: string;
}

function List({ title, items, onPick, onClose, close }: { title: string; items: Item[]; onPick: (id: string) => void; onClose: () => void; close: string }) {
  return (
    <>
      <h2>{title}</h2>
      <ul>
        {items.map((i) => (
          <li key={i.id}>
            <button type="button" className="choice" onClick={() => onPick(i.id)}>
              <span className="strong">{i.text}</span>
              {i.hint && <span className="small quiet">{i.hint}</span>}
            </button>
          </li>
        ))}
      </ul>
      <button type="button" className="link" onClick={onClose}>
        {close}
      </button>
    </>
  );
}
