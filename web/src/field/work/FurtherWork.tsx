/** Further work: what was recommended and what the customer said to it, what the checks suggest, and new work that was found. */
import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Proposal, ProposalAnswerKind, ProposalLine, SheetAlert, VisitView } from "../../types";
import { price, quantity } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice, useRecord, useSettings } from "../device";
import { PhotoList } from "../visit/PhotoStrip";
import { StrikeOut } from "../visit/StrikeOut";
import { VisitSection } from "../visit/VisitSection";

const Recommend = lazy(() => import("./Recommend"));
const FoundWork = lazy(() => import("./FoundWork"));

export function FurtherWork({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState<"recommend" | "found">();
  const made = view.visit.proposals ?? [];
  const close = () => setOpen(undefined);
  return (
    <VisitSection id="further" title={t("further.title")}>
      {made.map((p) => (
        <Made key={p.entry} view={view} proposal={p} />
      ))}
      <Suggested view={view} />
      <span className="further">
        <button type="button" className="chip" onClick={() => setOpen("recommend")}>
          {t("recommend.open")}
        </button>
        <button type="button" className="chip" onClick={() => setOpen("found")}>
          {t("found.open")}
        </button>
      </span>
      <Suspense fallback={null}>
        {open === "recommend" && <Recommend view={view} onClose={close} />}
        {open === "found" && <FoundWork at={{ customer: view.order.customer, site: view.order.site, visit: view.id }} onClose={close} />}
      </Suspense>
    </VisitSection>
  );
}

function Made({ view, proposal: p }: { view: VisitView; proposal: Proposal }) {
  const { t } = useTranslation();
  const record = useRecord();
  const settings = useSettings();
  const lines = p.lines ?? [];
  const say = (i: number, answer: ProposalAnswerKind) =>
    void record("proposal.answered", view.id, {
      proposal: p.entry,
      answers: lines.map((l, n) => (n === i ? (l.answer === answer ? "" : answer) : (l.answer ?? ""))),
      name: view.site.contact.name || undefined,
    });
  const cost = (l: ProposalLine) => (settings?.visits.prices && l.price ? ` · ${price(l.price, settings.company.currency)}` : "");
  return (
    <div className="proposal">
      <div className="line">
        <span className={`grow${p.struck ? " struck" : ""}`}>
          {p.text}
          <span className="tiny quiet block">
            {t(`proposal.${p.kind}`)}
            {(p.part || p.kit) && ` · ${p.quantity ?? 1} × ${p.part ?? p.kit}`}
          </span>
        </span>
        <StrikeOut view={view} line={p} kind="work.proposed" />
      </div>
      {!p.struck && (
        <>
          {lines.map((l, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the lines of a recommendation keep their places
            <div className="line proposal-line" key={i}>
              <span className="grow">
                {l.text}
                <span className="tiny quiet block">
                  {quantity(l.quantity, l.unit)}
                  {cost(l)}
                </span>
              </span>
              {(["accepted", "declined"] as const).map((a) => (
                <button
                  type="button"
                  className="chip"
                  key={a}
                  aria-pressed={l.answer === a}
                  onClick={() => say(i, a)}
                  aria-label={`${t(`answer.${a}`)}: ${l.text}`}
                >
                  {t(`answer.${a}`)}
                </button>
              ))}
            </div>
          ))}
          <PhotoList view={view} entries={(view.visit.files ?? []).filter((f) => f.about.entry === p.entry).map((f) => f.entry)} />
          {lines.some((l) => l.answer) && <Tag kind="good">{t("recommend.answered", { name: p.answeredBy || t("recommend.customer") })}</Tag>}
        </>
      )}
    </div>
  );
}

/** What the answers of the sheets suggest. */
function Suggested({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const record = useRecord();
  const suggested = view.progress.flatMap((p) =>
    p.alerts
      .filter((a) => a.kind === "recommendation")
      .map((a) => ({ alert: a, key: `sheet ${p.sheet} ${a.kind} ${a.question}${a.item ? `@${a.item}` : ""}` }))
      .filter((s) => !view.visit.proposals?.some((m) => m.about === s.key && !m.struck)),
  );
  const propose = async (a: SheetAlert, key: string) => {
    const r = a.recommend;
    const [kit, part] = await Promise.all([db.body("kit", r?.kit), db.body("part", r?.part)]);
    const item = kit ?? part;
    const line = item && { text: item.name, part: r?.part, quantity: r?.quantity ?? "1", unit: part?.unit, price: item.price };
    await record("work.proposed", view.id, {
      kind: "recommendation",
      text: a.text,
      asset: view.order.asset,
      part: r?.part,
      kit: r?.kit,
      quantity: r?.quantity,
      price: item?.price,
      about: key,
      lines: line ? [line] : undefined,
    });
  };
  return suggested.map((s) => (
    <div className="line" key={s.key}>
      <span className="grow">
        {s.alert.text}
        <span className="tiny quiet block">{t("further.suggested")}</span>
      </span>
      <button type="button" className="chip" onClick={() => void propose(s.alert, s.key)}>
        {t("further.propose")}
      </button>
    </div>
  ));
}
