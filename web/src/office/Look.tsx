import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { nest } from "../records";
import { May } from "../session/May";
import { rightTo } from "../session/session";
import type { EntryDraft, Flagged, Right, SettingsChanged } from "../types";
import { timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { plainValue } from "../ui/plainValue";
import { say, type Word } from "../words/i18n";
import { HeldLine } from "./HeldLine";
import { Failure, useCommands, useFlags, useHeld } from "./queries";

/** How many held entries the server lists at once. */
const mostHeld = 500;

/** What somebody must look at: entries that are held, and what was taken and flagged; with what to do about each. */
export function Look() {
  const { t } = useTranslation();
  const flags = useFlags().data ?? [];
  const held = useHeld().data ?? [];
  if (flags.length + held.length === 0) return null;
  return (
    <section className="sec look" aria-label={t("look.title")}>
      <h2>
        {t("look.title")} <span className="small quiet">{t("look.hint")}</span>
      </h2>
      {held.map((h) => (
        <HeldLine key={h.id} held={h} />
      ))}
      {held.length >= mostHeld && <p className="quiet">{t("held.cut", { count: mostHeld })}</p>}
      {flags.map((f) => (
        <FlagLine key={f.subject.id + f.code + f.person} flag={f} />
      ))}
    </section>
  );
}

/** A flag, with one or two things to do about it. here: on the page of what it is about. */
export function FlagLine({ flag: f, here }: { flag: Flagged; here?: boolean }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const settle: EntryDraft = { kind: "flag.settled", subject: f.subject, body: { code: f.code, person: f.person } };
  const ways = waysOf(f, settle);
  const page = f.subject.type === "visit" ? `/office/visits/${f.subject.id}` : `/office/records/${f.subject.type}/${f.subject.id}`;
  return (
    <div className="line look-line">
      <span className="grow">
        <Tag kind="warn">{say(f)}</Tag>
        {f.code === "record.clash" && <Both flag={f} />}
        <span className="small quiet block">
          {!here && (
            <>
              <Link to={page}>{f.about || t(f.subject.type === "visit" ? "look.open" : "look.record")}</Link> ·{" "}
            </>
          )}
          {[f.name, timeOrDay(f.at), f.count > 1 ? t("look.times", { count: f.count }) : ""].filter(Boolean).join(" · ")}
        </span>
        <Failure error={commands.error} />
      </span>
      {ways.map((w) => (
        <May key={w.word} right={w.right}>
          <Button disabled={commands.isPending} onClick={() => commands.mutate(w.orders)}>
            {t(w.word as Word, { name: f.name })}
          </Button>
        </May>
      ))}
    </div>
  );
}

/** What two people wrote, the earlier beside the later. */
function Both({ flag }: { flag: Flagged }) {
  const { t } = useTranslation();
  const value = (v = "null") => plainValue(JSON.parse(v)) || t("records.empty");
  return (
    <span className="both">
      <span>
        <span className="tiny quiet">{t("look.earlier")}</span> {value(flag.args?.earlier)}
      </span>
      <span>
        <span className="tiny quiet">{t("look.later")}</span> <b>{value(flag.args?.later)}</b>
      </span>
    </span>
  );
}

/** What can be done about a flag, by what it says. The first settles it as it stands. */
function waysOf(f: Flagged, settle: EntryDraft): { word: string; right: Right; orders: EntryDraft[] }[] {
  switch (f.code) {
    case "record.clash": {
      const { field = "", earlier = "null", later = "null" } = f.args ?? {};
      const { day } = f.args ?? {}; // of settings: from when on
      const [body, base] = [nest(field, JSON.parse(earlier)), nest(field, JSON.parse(later))];
      const restore: EntryDraft = day
        ? { kind: "settings.changed", subject: f.subject, body: { days: { [day]: body as SettingsChanged["days"][string] } }, base: { [day]: base } }
        : { kind: "record.amended", subject: f.subject, body, base };
      return [
        { word: "look.keep", right: "flag.settled", orders: [settle] },
        { word: "look.restore", right: day ? "settings.changed" : rightTo("record.amended", f.subject.type), orders: [restore, settle] },
      ];
    }
    case "visit.not_theirs":
      return [{ word: "look.credit", right: "flag.settled", orders: [settle] }];
    default:
      return [{ word: "look.settle", right: "flag.settled", orders: [settle] }];
  }
}
