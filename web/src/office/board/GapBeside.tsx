/** A gap in somebody's day, and what fits into it: what waits, and what is planned later and could come sooner. */
import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMay } from "../../session/session";
import type { EntryDraft, GapLine, VisitMove, VisitPlan } from "../../types";
import { duration, moment, shortDate, time } from "../../ui/format";
import { fitWords } from "../../ui/planReasons";
import { keepLast } from "../commands";
import { Answer, Failure, useQuestion, useSettings } from "../queries";
import { minute, momentAt, type Scale } from "./scale";
import { warningsOf } from "./stops";
import { usePlanCommands } from "./usePlanDraft";

interface Props {
  person: string;
  at: number; // seconds of the day
  without?: string; // a work order that is not to fill it
  scale: Scale;
  onTaken: (visit: string) => void;
  onClose: () => void;
}

export function GapBeside({ person, at, without, scale, onTaken, onClose }: Props) {
  const { t } = useTranslation();
  const commands = usePlanCommands();
  const mayOpen = useMay("work.opened");
  const skills = useSettings().data?.orders.skills ?? [];
  const from = moment(momentAt(scale, at));
  const asked = useQuestion("/api/office/gap", { person, at: from, without, draft: commands.drafting || undefined }, keepLast);
  const take = async (l: GapLine) => {
    const warned = warningsOf(l.fit.why);
    const body = { technician: person, start: l.begin, minutes: l.minutes, against: warned.length > 0 ? { warned } : undefined };
    const id = l.visit ?? commands.idOf(`visit of ${l.order.id}`);
    const subject = { type: "visit", id };
    const entry: EntryDraft = l.visit
      ? { kind: "visit.moved", subject, body: body satisfies VisitMove }
      : { kind: "visit.planned", subject, body: { ...body, order: l.order.id } satisfies VisitPlan };
    await commands.mutateAsync([entry]);
    onTaken(id);
  };
  return (
    <section className="chosen" aria-label={t("gap.title")}>
      <Answer query={asked}>
        {(gap) => (
          <>
            <h2>{t("gap.of", { name: gap.name })}</h2>
            <p className="small">
              {gap.from && gap.to
                ? t("gap.free", { from: time(gap.from), to: time(gap.to), time: duration((Date.parse(gap.to) - Date.parse(gap.from)) / 1000) })
                : t("gap.none")}
            </p>
            {gap.from && gap.lines.length === 0 && <p className="small">{t("gap.nothing")}</p>}
            <ol className="fits">
              {gap.lines.map((l) => (
                <li key={l.visit ?? l.order.id}>
                  <button type="button" disabled={commands.isPending} onClick={() => take(l).catch(() => {})}>
                    <b>{time(l.begin)}</b> {l.order.site}: {l.order.problem}
                    <span className="block tiny quiet">
                      {[
                        duration(l.minutes * minute),
                        l.visit ? t("gap.planned", { day: shortDate(l.start ?? 0), time: time(l.start ?? 0), name: l.name }) : t("gap.waits"),
                        fitWords(l.fit, skills),
                      ].join(" · ")}
                    </span>
                  </button>
                </li>
              ))}
            </ol>
            {gap.more || gap.left ? (
              <p className="tiny quiet">
                {[gap.more && t("gap.more", { count: gap.more }), gap.left && t("gap.left", { count: gap.left })].filter(Boolean).join(" · ")}
              </p>
            ) : null}
            <p className="chosen-acts">
              {mayOpen && gap.from && (
                <Button component={Link} to={`/office/intake?person=${person}&at=${encodeURIComponent(from)}`}>
                  {t("gap.open")}
                </Button>
              )}
              <button type="button" className="link" onClick={onClose}>
                {t("photos.close")}
              </button>
            </p>
          </>
        )}
      </Answer>
      <Failure error={commands.error} />
    </section>
  );
}
