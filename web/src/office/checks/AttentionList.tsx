import { Button, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { May } from "../../session/May";
import type { AttentionLine, EntryDraft, WorkOpened } from "../../types";
import { dayOrTime } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import type { Word } from "../../words/i18n";
import { Answer, Failure, useAttention, useCommands } from "../queries";
import { ProposedLines } from "./ProposedLines";

const first = 6;

/** Hazards, alarms, failed checks and further work, the most pressing first, each with what can be done about it. */
export function AttentionList() {
  const { t } = useTranslation();
  const [handled, setHandled] = useState(false);
  const query = useAttention(handled);
  return (
    <section className="attention" aria-label={t("attention.title")}>
      <h2>
        {t("attention.title")}{" "}
        <button type="button" className="link small" aria-pressed={handled} onClick={() => setHandled(!handled)}>
          {t(handled ? "attention.showOpen" : "attention.showHandled")}
        </button>
      </h2>
      <Answer query={query}>{(lines) => (lines.length === 0 ? <p className="quiet">{t("attention.none")}</p> : <Lines lines={lines} />)}</Answer>
    </section>
  );
}

function Lines({ lines }: { lines: AttentionLine[] }) {
  const { t } = useTranslation();
  const [all, setAll] = useState(false);
  return (
    <>
      <ul>
        {lines.slice(0, all ? undefined : first).map((l) => (
          <li key={l.visit + l.key}>
            <ConcernLine line={l} />
          </li>
        ))}
      </ul>
      {!all && lines.length > first && (
        <button type="button" className="link" onClick={() => setAll(true)}>
          {t("attention.all", { count: lines.length })}
        </button>
      )}
    </>
  );
}

const loud = (l: AttentionLine) => l.concern === "hazard" || l.concern === "alarm";

/** What wants attention, with what can be done about it. */
export function ConcernLine({ line: l }: { line: AttentionLine }) {
  const { t } = useTranslation();
  const [doing, setDoing] = useState<"open" | "settle">();
  return (
    <>
      <div className="attention-line">
        <Tag kind={loud(l) ? "bad" : "warn"}>{t(`concern.${l.concern}`)}</Tag>
        <span className="grow">
          <b>{says(l, t)}</b>
          <ProposedLines lines={l.lines ?? []} />
          <span className="small quiet block">
            <Link to={`/office/visits/${l.visit}`}>{l.siteName}</Link>
            {l.assetName && (
              <>
                {" · "}
                <Link to={`/office/records/asset/${l.asset}`}>{l.assetName}</Link>
              </>
            )}
            {" · "}
            {l.by}, {dayOrTime(l.at)} · {l.number}
          </span>
        </span>
        {l.handled ? (
          <span className="small quiet end">
            {l.work ? t("attention.opened", { number: l.work }) : l.handled.reason}
            <span className="block">{dayOrTime(l.handled.at)}</span>
          </span>
        ) : (
          <span className="attention-acts">
            <May right="work.opened">
              <Button size="small" variant="outlined" onClick={() => setDoing(doing === "open" ? undefined : "open")}>
                {t("attention.open")}
              </Button>
            </May>
            <May right="attention.handled">
              <Button size="small" variant="text" onClick={() => setDoing(doing === "settle" ? undefined : "settle")}>
                {t("attention.settle")}
              </Button>
            </May>
          </span>
        )}
      </div>
      {doing && <Handle line={l} open={doing === "open"} onDone={() => setDoing(undefined)} />}
    </>
  );
}

type Say = (key: Word, args?: Record<string, unknown>) => string;

/** What it is about, in a sentence. */
function says(l: AttentionLine, t: Say): string {
  const answer = l.value === "yes" || l.value === "no" ? t(`checks.${l.value}`) : l.value;
  if (!l.point) return [l.text, answer, l.partName && `(${l.partName})`].filter(Boolean).join(" ");
  const value = `${l.pointName}: ${l.value} ${l.unit}`;
  if (l.concern === "doubt") return `${value}, ${t(`doubt.${l.code}` as Word)}`;
  return `${value}, ${t(`level.${l.code}` as Word)}${l.limit ? ` (${t("attention.limit", { limit: l.limit, unit: l.limitUnit })})` : ""}`;
}

/** Opens work for it, or says why nothing is left to do. */
function Handle({ line: l, open, onDone }: { line: AttentionLine; open: boolean; onDone: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const [text, setText] = useState(open ? says(l, t as Say) : "");
  const submit = (e: FormEvent) => {
    e.preventDefault();
    const subject = { type: "visit", id: l.visit };
    const id = commands.idOf("order");
    const order: WorkOpened = {
      customer: l.customer,
      site: l.site,
      asset: l.asset || undefined,
      problem: text.trim(),
      priority: l.concern === "hazard" ? "emergency" : loud(l) ? "soon" : "normal",
      minutes: 60,
      kind: "repair",
      from: { visit: l.visit, key: l.key },
    };
    const drafts: EntryDraft[] = open
      ? [
          { kind: "work.opened", subject: { type: "workorder", id }, body: order },
          { kind: "attention.handled", subject, body: { key: l.key, order: id } },
        ]
      : [{ kind: "attention.handled", subject, body: { key: l.key, reason: text.trim() } }];
    commands.mutate(drafts, { onSuccess: onDone });
  };
  return (
    <form className="attention-handle" onSubmit={submit}>
      <TextField
        label={t(open ? "intake.problem" : "attention.why")}
        value={text}
        onChange={(e) => setText(e.target.value)}
        autoFocus
        required
        multiline
        slotProps={{ htmlInput: { maxLength: open ? 5000 : 500 } }}
      />
      <Button type="submit" variant="contained" disabled={!text.trim() || commands.isPending}>
        {t(open ? "attention.openWork" : "attention.done")}
      </Button>
      <button type="button" className="link" onClick={onDone}>
        {t("choose.cancel")}
      </button>
      <Failure error={commands.error} />
    </form>
  );
}
