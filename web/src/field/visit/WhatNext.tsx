/** One tap from something that is wrong to what is done about it: a note, a follow-up, a recommendation. */
import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { Tag } from "../../ui/Glyph";
import { useRecord } from "../device";
import { StrikeOut } from "./StrikeOut";

interface Props {
  view: VisitView;
  text: string;
  asset?: string;
  about: string;
}

export function WhatNext({ view, text, asset, about }: Props) {
  const { t } = useTranslation();
  const record = useRecord();
  const made = (view.visit.proposals ?? []).filter((p) => p.about === about && !p.struck);
  const noted = view.visit.notes?.some((n) => n.text === text && !n.struck);
  const propose = (kind: "follow_up" | "recommendation") => void record("work.proposed", view.id, { kind, text, asset, about });
  return (
    <span className="further">
      {made.map((p) => (
        <span key={p.entry}>
          <Tag kind="good">{t(`proposal.${p.kind}`)}</Tag> <StrikeOut view={view} line={p} kind="work.proposed" />
        </span>
      ))}
      {!noted && (
        <button type="button" className="chip" onClick={() => void record("note.written", view.id, { text })}>
          {t("further.note")}
        </button>
      )}
      {(["follow_up", "recommendation"] as const)
        .filter((k) => !made.some((p) => p.kind === k))
        .map((k) => (
          <button type="button" className="chip" key={k} onClick={() => propose(k)}>
            {t(`further.${k}`)}
          </button>
        ))}
    </span>
  );
}
