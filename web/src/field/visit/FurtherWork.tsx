/** One tap from something that is wrong to what is done about it: a note, a follow-up, a recommendation. */
import { useTranslation } from "react-i18next";
import type { SheetAlert, VisitView } from "../../types";
import { Tag } from "../../ui/Glyph";
import { useDevice, useRecord } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

interface Props {
  view: VisitView;
  text: string;
  asset?: string;
  about: string;
}

export function FurtherWork({ view, text, asset, about }: Props) {
  const { t } = useTranslation();
  const record = useRecord();
  const made = (view.visit.proposals ?? []).filter((p) => p.about === about && !p.struck);
  const noted = view.visit.notes?.some((n) => n.text === text && !n.struck);
  const propose = (kind: "follow_up" | "recommendation") => void record("work.proposed", view.id, { kind, text, asset, about });
  return (
    <span className="further">
      {made.map((p) => (
        <span key={p.entry}>
          <Tag kind="good">{t(`proposal.${p.kind}`)}</Tag> <StrikeOut view={view} entry={p.entry} at={p.at} kind="work.proposed" person={p.person} />
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

/** Further work: what was proposed on this visit, and what the answers of the sheets suggest. */
export function Proposals({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const record = useRecord();
  const made = view.visit.proposals ?? [];
  const suggested = view.progress.flatMap((p) =>
    p.alerts
      .filter((a) => a.kind === "recommendation")
      .map((a) => ({ alert: a, key: `sheet ${p.sheet} ${a.kind} ${a.question}${a.item ? `@${a.item}` : ""}` }))
      .filter((s) => !made.some((m) => m.about === s.key && !m.struck)),
  );
  if (made.length === 0 && suggested.length === 0) return null;
  const propose = async (a: SheetAlert, key: string) => {
    const r = a.recommend;
    const item = (await db.body<{ price: string }>(r?.kit ? "kit" : "part", r?.kit ?? r?.part)) ?? undefined;
    await record("work.proposed", view.id, {
      kind: "recommendation",
      text: a.text,
      asset: view.order.asset,
      part: r?.part,
      kit: r?.kit,
      quantity: r?.quantity,
      price: item?.price,
      about: key,
    });
  };
  return (
    <VisitSection id="further" title={t("further.title")}>
      {made.map((p) => (
        <div className="line" key={p.entry}>
          <span className={`grow${p.struck ? " struck" : ""}`}>
            {p.text}
            <span className="tiny quiet block">
              {t(`proposal.${p.kind}`)}
              {(p.part || p.kit) && ` · ${p.quantity ?? 1} × ${p.part ?? p.kit}`}
            </span>
          </span>
          <StrikeOut view={view} entry={p.entry} at={p.at} kind="work.proposed" person={p.person} struck={p.struck} />
        </div>
      ))}
      {suggested.map((s) => (
        <div className="line" key={s.key}>
          <span className="grow">
            {s.alert.text}
            <span className="tiny quiet block">{t("further.suggested")}</span>
          </span>
          <button type="button" className="chip" onClick={() => void propose(s.alert, s.key)}>
            {t("further.propose")}
          </button>
        </div>
      ))}
    </VisitSection>
  );
}
