import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { FinishedLine, HeldEntry } from "../types";
import { Empty } from "../ui/Empty";
import { duration, timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { say, type Word } from "../words/i18n";
import { Answer, Failure, useDecide, useFinished, useHeld } from "./queries";

/** Finished visits as they arrive, with what there is to look at; and the entries that wait for a decision. */
export function Review() {
  const { t } = useTranslation();
  const finished = useFinished();
  return (
    <main className="review">
      <h1>{t("review.title")}</h1>
      <Held />
      <Answer query={finished}>{(lines) => (lines.length === 0 ? <Empty>{t("review.none")}</Empty> : <Finished lines={lines} />)}</Answer>
    </main>
  );
}

function Finished({ lines }: { lines: FinishedLine[] }) {
  const { t } = useTranslation();
  return (
    <table className="table">
      <thead>
        <tr>
          <th>{t("review.site")}</th>
          <th>{t("review.who")}</th>
          <th>{t("review.ended")}</th>
          <th>{t("review.hours")}</th>
          <th>{t("review.outcome")}</th>
          <th>{t("review.look")}</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((l) => (
          <tr key={l.id}>
            <td>
              <Link to={`/office/visits/${l.id}`} className="strong">
                {l.site}
              </Link>
              <span className="small quiet block">
                {l.number} · {l.problem}
              </span>
            </td>
            <td>{l.technician}</td>
            <td className="nowrap">{timeOrDay(l.ended)}</td>
            <td className="nowrap">
              {duration(l.travel)} + {duration(l.work)}
            </td>
            <td>{t(`outcome.${l.outcome}`)}</td>
            <td>
              <Exceptions line={l} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Exceptions({ line: l }: { line: FinishedLine }) {
  const { t } = useTranslation();
  const unsigned = !l.signed;
  const missing = l.missing - (unsigned ? 1 : 0);
  if (!unsigned && !l.changed && missing <= 0 && l.flags === 0) return <span className="quiet">{t("review.fine")}</span>;
  return (
    <span className="exceptions">
      {unsigned && <Tag kind="warn">{t("review.unsigned")}</Tag>}
      {l.changed && <Tag kind="warn">{t("sign.changed")}</Tag>}
      {missing > 0 && <Tag kind="warn">{t("review.missing", { count: missing })}</Tag>}
      {l.flags > 0 && <Tag kind="bad">{t("review.flags", { count: l.flags })}</Tag>}
    </span>
  );
}

function Held() {
  const { t } = useTranslation();
  const held = useHeld().data ?? [];
  const decide = useDecide();
  if (held.length === 0) return null;
  return (
    <section className="sec">
      <h2>
        {t("review.heldTitle")} <span className="small quiet">{t("review.heldHint")}</span>
      </h2>
      <Failure error={decide.error} />
      {held.map((h) => (
        <HeldLine key={h.id} held={h} busy={decide.isPending} onDecide={(decision) => decide.mutate({ id: h.id, decision })} />
      ))}
    </section>
  );
}

function HeldLine({ held, busy, onDecide }: { held: HeldEntry; busy: boolean; onDecide: (d: "take" | "set_aside") => void }) {
  const { t, i18n } = useTranslation();
  const key = `entry.${held.entry.kind}`;
  const body = JSON.stringify(held.entry.body ?? {});
  return (
    <div className="line">
      <span className="grow">
        <b>{i18n.exists(key) ? t(key as Word) : held.entry.kind}</b> · {held.person} · {timeOrDay(held.entry.at)}
        <span className="block">
          <Tag kind="warn">{say(held.why)}</Tag>
        </span>
        <code className="tiny quiet">{body.length > 160 ? `${body.slice(0, 160)}…` : body}</code>
      </span>
      <Button disabled={busy} onClick={() => onDecide("take")}>
        {t("review.heldTake")}
      </Button>
      <Button disabled={busy} onClick={() => onDecide("set_aside")}>
        {t("review.heldSet")}
      </Button>
    </div>
  );
}
