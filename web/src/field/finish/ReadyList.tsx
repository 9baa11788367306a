import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import type { Lacking, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { Mark, Tag } from "../../ui/Glyph";
import { reasonText, skipReasons } from "../../ui/reasons";
import { say } from "../../words/i18n";
import { useRecord, useSettings } from "../device";
import { StrikeOut } from "../visit/StrikeOut";
import { jump } from "../visit/VisitSection";

/** What still keeps the visit from being complete, each a jump to where it is seen to; what is asked for can be left out with a reason. */
export function ReadyList({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [leaving, setLeaving] = useState<Lacking>();
  const reasons = skipReasons(useSettings());
  const { lacking, done, of } = view.ready;
  const open = lacking.filter((l) => !l.skip);
  const out = lacking.filter((l) => l.skip);
  return (
    <>
      {of > 0 && (
        <div className="share" role="progressbar" aria-label={t("ready.title")} aria-valuenow={done} aria-valuemin={0} aria-valuemax={of}>
          <span style={{ width: `${(100 * done) / of}%` }} />
        </div>
      )}
      {open.length === 0 && (
        <p className="line">
          <Tag kind="good">{t("ready.all")}</Tag>
        </p>
      )}
      {open.map((l) => (
        <div className="line" key={l.key}>
          <JumpTo view={view} lacking={l} />
          {l.duty === "asked" && l.check !== "signature" && (
            <button type="button" className="link small" onClick={() => setLeaving(l)} aria-label={t("ready.leaveNamed", { what: say(l.what) })}>
              {t("ready.leave")}
            </button>
          )}
        </div>
      ))}
      {out.map((l) => (
        <div className="line" key={l.key}>
          <span className="grow quiet">
            {say(l.what)}
            <span className="tiny block">{t("ready.leftOut", { reason: reasonText(reasons, l.skip!.reason) })}</span>
          </span>
          <StrikeOut view={view} line={l.skip!} kind="ready.skipped" />
        </div>
      ))}
      {leaving && <LeaveOut view={view} what={[leaving]} onDone={() => setLeaving(undefined)} onClose={() => setLeaving(undefined)} />}
    </>
  );
}

/** A thing that is missing, as a way to it. */
export function JumpTo({ view, lacking: l, onJump }: { view: VisitView; lacking: Lacking; onJump?: () => void }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const go = (e: { preventDefault: () => void }) => {
    onJump?.();
    const inline = l.jump.sheet && document.getElementById(`sheet-${l.jump.sheet}`);
    if (l.jump.sheet && !inline) navigate(`/field/visit/${view.id}/sheet/${encodeURIComponent(l.jump.sheet)}`);
    else jump(e, l.check === "signature" ? "signatures" : l.jump.section);
  };
  return (
    <button type="button" className="jump grow" onClick={go}>
      <span className={`tag ${l.duty === "required" ? "bad" : "warn"}`}>
        <Mark kind={l.duty === "optional" ? "todo" : l.duty === "required" ? "bad" : "warn"} />
      </span>
      <span className="grow">
        {say(l.what)}
        <span className="tiny quiet block">{t(`duty.${l.duty}`)}</span>
      </span>
    </button>
  );
}

/** Why things that were asked for are left out: one tap for one reason. */
export function LeaveOut({ view, what, onDone, onClose }: { view: VisitView; what: Lacking[]; onDone: () => void; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const reasons = skipReasons(useSettings());
  const leave = async (reason: string) => {
    for (const l of what) if (!(await record("ready.skipped", view.id, { key: l.key, reason }))) return;
    onDone();
  };
  return (
    <ChoiceDrawer title={t("ready.why")} onClose={onClose}>
      <ul className="choices-note">
        {what.map((l) => (
          <li key={l.key}>
            <Tag kind="warn">{say(l.what)}</Tag>
          </li>
        ))}
      </ul>
      <ul>
        {reasons.map((r) => (
          <li key={r.id}>
            <button type="button" className="choice" onClick={() => leave(r.id)}>
              <span className="strong">{r.text}</span>
            </button>
          </li>
        ))}
      </ul>
    </ChoiceDrawer>
  );
}
