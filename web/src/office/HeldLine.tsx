import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { HeldLine as Held, Ref, WouldChange } from "../types";
import { timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { plainValue } from "../ui/plainValue";
import { say, type Word } from "../words/i18n";
import { Failure, useDecide } from "./queries";
import { Sentence } from "./Sentence";

/** An entry that is held: who sent it, what it says, what would happen if it counted, and the decision. */
export function HeldLine({ held }: { held: Held }) {
  const { t } = useTranslation();
  const decide = useDecide(held.id);
  const { entry } = held;
  const go = (decision: "take" | "set_aside") => decide.mutate({ do: decision });
  return (
    <div className="line look-line">
      <span className="grow">
        <Tag kind="warn">{t("held.why", { why: say(held.why) })}</Tag>
        <span className="block">
          <b>{held.name}</b> <Sentence kind={entry.kind} args={texts(entry.body)} />
        </span>
        <span className="small quiet block">
          {held.about && (
            <>
              <About subject={entry.subject} about={held.about} /> ·{" "}
            </>
          )}
          {[timeOrDay(entry.at), held.by && t("held.brought", { name: held.by })].filter(Boolean).join(" · ")}
        </span>
        <span className="small block held-would">
          {held.cannot ? (
            t("held.cannot", { why: say(held.cannot) })
          ) : (
            <>
              {t("held.would", { name: held.name })}
              {held.would.changes.map((c) => (
                <Change key={`${c.ref.type}/${c.ref.id}`} change={c} />
              ))}
              {held.would.changes.length === 0 && <span className="block">{t("held.nothing")}</span>}
              {held.would.flags.map((f) => (
                <span className="block" key={f.code}>
                  {t("held.flag", { flag: say(f) })}
                </span>
              ))}
            </>
          )}
        </span>
        <Failure error={decide.error} />
      </span>
      <Button disabled={decide.isPending || !!held.cannot} onClick={() => go("take")}>
        {t("review.heldTake")}
      </Button>
      <Button disabled={decide.isPending || !held.theirs} onClick={() => go("set_aside")}>
        {t("review.heldSet")}
      </Button>
    </div>
  );
}

/** What an entry is about, with a link where it has a page. */
function About({ subject, about }: { subject: Ref; about: string }) {
  if (subject.type === "visit") return <Link to={`/office/visits/${subject.id}`}>{about}</Link>;
  if (["customer", "site", "asset"].includes(subject.type)) return <Link to={`/office/records/${subject.type}/${subject.id}`}>{about}</Link>;
  return about;
}

/** A document that would change; of a record, its fields. */
function Change({ change: c }: { change: WouldChange }) {
  const { t } = useTranslation();
  const what = t(`doc.${c.ref.type}` as Word, { defaultValue: c.ref.type });
  return (
    <span className="block">
      {what} {c.about && <b>{c.about}</b>} {c.new && <span className="quiet">({t("held.new")})</span>}
      {c.fields.map((f) => (
        <span className="block held-field" key={f.field}>
          <span className="quiet">{t(`field.${f.field}` as Word, { defaultValue: f.field })}:</span> <span className="struck">{plainValue(f.before)}</span>{" "}
          <b>{plainValue(f.after) || t("records.empty")}</b>
        </span>
      ))}
    </span>
  );
}

/** The texts and numbers of a body, of whatever shape it came in. */
const texts = (body: unknown) =>
  Object.fromEntries(
    Object.entries((body ?? {}) as Record<string, unknown>).flatMap(([k, v]) => (typeof v === "string" || typeof v === "number" ? [[k, String(v)]] : [])),
  );
