/** What was measured and answered on a visit, as the office reads it. */

import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { May } from "../../session/May";
import type { AnswerLine, Drawn, FilledSheet, Question, SheetProgress, VisitView } from "../../types";
import { price, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LevelTag } from "../../ui/Level";
import { isLater } from "../../ui/later";
import { SignatureImage } from "../../ui/SignatureImage";
import { say } from "../../words/i18n";
import { useCommands, useCurrency, useSheets } from "../queries";
import { ProposedLines } from "./ProposedLines";

export function Readings({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const derived = view.machines.flatMap((m) => m.derived.filter((d) => d.value !== undefined).map((d) => ({ ...d, machine: m })));
  return (
    <section className="sec" aria-label={t("visit.readings")}>
      <h2>{t("visit.readings")}</h2>
      {view.readings.length === 0 && <p className="quiet">{t("page.nothing")}</p>}
      {view.readings.map((r) => (
        <p className={`line${r.struck ? " struck" : ""}`} key={r.entry}>
          <span className="grow">
            {r.pointName} {view.machines.length > 1 && <Link to={`/office/records/asset/${r.asset}`}>{r.assetName}</Link>}
            {r.from && <span className="tiny quiet"> {t("readings.from", { instrument: r.from })}</span>}
            {isLater(view, r.at) && <span className="tiny quiet"> {t("page.later")}</span>}
          </span>
          {r.level !== "ok" && <LevelTag level={r.level} />}
          {r.doubt && <Tag kind="warn">{t(`doubt.${r.doubt}`)}</Tag>}
          <span className="end nowrap">
            <b>{r.shown}</b> {r.shownUnit}
            {r.unit !== r.shownUnit && (
              <span className="tiny quiet block">
                {r.value} {r.unit}
              </span>
            )}
          </span>
        </p>
      ))}
      {derived.map((d) => (
        <p className="line" key={d.machine.id + d.id}>
          <span className="grow">
            {d.name} <span className="tiny quiet">{t("readings.derived")}</span>
          </span>
          {d.level !== "ok" && <LevelTag level={d.level} />}
          <span className="end nowrap">
            <b>{d.value}</b> {d.unit}
          </span>
        </p>
      ))}
    </section>
  );
}

export function Answers({ view, sheets }: { view: VisitView; sheets: FilledSheet[] }) {
  const { t } = useTranslation();
  return (
    <section className="sec" aria-label={t("page.answers")}>
      <h2>
        {t("page.answers")}{" "}
        {!["finished", "withdrawn"].includes(view.visit.stage) && (
          <May right="work.sheet_attached">
            <AddSheet view={view} />
          </May>
        )}
      </h2>
      {sheets.length === 0 && <p className="quiet">{t("page.nothing")}</p>}
      {sheets.map((f) => (
        <Filled key={f.state.sheet} filled={f} view={view} />
      ))}
    </section>
  );
}

/** A sheet that no rule attached, added by hand: the newest version. */
function AddSheet({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const more = (useSheets().data ?? []).filter((s) => s.version > 0 && !view.order.sheets?.some((ref) => ref.startsWith(`${s.id}@`)));
  const add = (sheet: string) =>
    commands.mutate([{ kind: "work.sheet_attached", subject: { type: "workorder", id: view.visit.order }, body: { order: view.visit.order, sheet } }]);
  return (
    <select value="" aria-label={t("page.addSheet")} disabled={commands.isPending || more.length === 0} onChange={(e) => e.target.value && add(e.target.value)}>
      <option value="">{t("page.addSheet")}</option>
      {more.map((s) => (
        <option key={s.id} value={`${s.id}@${s.version}`}>
          {s.title}
        </option>
      ))}
    </select>
  );
}

function Filled({ filled: { sheet, state }, view }: { filled: FilledSheet; view: VisitView }) {
  const { t } = useTranslation();
  const currency = useCurrency();
  return (
    <div className="filled">
      <h3>
        {sheet.title}{" "}
        <span className="small quiet">
          {t("checks.progress", { ...state })}
          {state.begun && ` · ${t("sheet.begun", { time: timeOrDay(state.begun) })}`}
          {state.done && ` · ${t("sheet.done", { time: timeOrDay(state.done) })}`}
        </span>{" "}
        {state.score && <Result state={state} />}
      </h3>
      {state.sections?.map((s) => {
        const section = sheet.sections[s.index];
        return (s.items ?? [undefined]).map((item) => (
          <div key={`${s.index} ${item?.id ?? ""}`}>
            <p className="small quiet filled-section">{item ? `${section.title}: ${item.name}` : section.title}</p>
            {section.questions.map((q) => {
              const line = state.lines?.find((l) => l.question === q.id && (l.item ?? "") === (item?.id ?? ""));
              return line && <Given key={q.id} question={q} line={line} view={view} sheet={state.sheet} />;
            })}
          </div>
        ));
      })}
      {state.amount && (
        <p className="line">
          <b className="grow">{t("sheet.total")}</b>
          <b>{price(state.amount, currency)}</b>
        </p>
      )}
    </div>
  );
}

/** The points; whether they are enough, once nothing is missing. */
function Result({ state: { score, missing } }: { state: SheetProgress }) {
  const { t } = useTranslation();
  if (!score) return null;
  const percent = `${score.percent} %`;
  if (!score.counts || missing.length > 0) return <span className="small quiet">{percent}</span>;
  return (
    <Tag kind={score.passed ? "good" : "warn"}>
      {percent} {t(score.passed ? "sheet.passed" : "sheet.notPassed")}
    </Tag>
  );
}

function Given({ question: q, line, view, sheet }: { question: Question; line: AnswerLine; view: VisitView; sheet: string }) {
  const { t } = useTranslation();
  const currency = useCurrency();
  if (q.kind === "instruction") return null;
  const note = view.visit.answers?.[sheet]?.[line.item ? `${q.id}@${line.item}` : q.id]?.note;
  return (
    <div className="line">
      <span className="grow">
        {q.text}
        {note && <span className="small quiet block pre">{note}</span>}
      </span>
      {line.alerts?.map((a) => (
        <Tag key={a} kind={a === "hazard" ? "bad" : "warn"}>
          {t(`alert.${a}`)}
        </Tag>
      ))}
      {line.problem && <Tag kind="warn">{say(line.problem)}</Tag>}
      <span className="end">
        {line.value ? <Value question={q} line={line} /> : <span className="quiet">{t("page.noAnswer")}</span>}
        {line.amount !== undefined && <span className="block">{price(line.amount, currency)}</span>}
      </span>
    </div>
  );
}

function Value({ question: q, line }: { question: Question; line: AnswerLine }) {
  const { t } = useTranslation();
  const value = line.value ?? "";
  switch (q.kind) {
    case "yesno":
      return <b>{t(value === "yes" ? "checks.yes" : "checks.no")}</b>;
    case "choice":
    case "several":
      return (
        <b>
          {(q.options ?? [])
            .filter((o) => value.split(",").includes(o.id))
            .map((o) => o.text)
            .join(", ")}
        </b>
      );
    case "photo":
      return <b>{t("sheet.photoCount", { count: Number(value) })}</b>;
    case "part": {
      const p = JSON.parse(value) as { name: string; quantity: string };
      return (
        <b>
          {p.quantity} × {p.name}
        </b>
      );
    }
    case "area":
      return <b>{areaWords(value)}</b>;
    case "signature": {
      const d = JSON.parse(value) as Drawn;
      return (
        <span>
          <SignatureImage strokes={d.strokes} />
          {d.name} {line.changed && <Tag kind="warn">{t("sign.changed")}</Tag>}
        </span>
      );
    }
    case "computed":
      if (line.amount !== undefined) return null;
      return <b>{value === "yes" || value === "no" ? t(`checks.${value}`) : `${value} ${q.unit ?? ""}`}</b>;
  }
  return <b className="pre">{`${value.replace("T", q.kind === "datetime" ? " " : "T")} ${q.unit ?? ""}`}</b>;
}

/** The shapes of an area as they were measured. */
function areaWords(value: string): string {
  const a = JSON.parse(value) as { name: string; unit: string; shapes: { sizes: string[]; cut?: boolean }[] };
  return [a.name, a.shapes.map((s) => `${s.cut ? "− " : ""}${s.sizes.join(" × ")} ${a.unit}`).join(" + ")].filter(Boolean).join(": ").replaceAll("+ −", "−");
}

/** Further work that was seen to be done. */
export function Proposed({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const currency = useCurrency();
  const made = view.visit.proposals ?? [];
  if (made.length === 0) return null;
  return (
    <section className="sec" aria-label={t("further.title")}>
      <h2>{t("further.title")}</h2>
      {made.map((p) => (
        <p className={`line${p.struck ? " struck" : ""}`} key={p.entry}>
          <span className="grow">
            {p.text}
            <ProposedLines lines={p.lines ?? []} />
          </span>
          <span className="quiet">{t(`proposal.${p.kind}`)}</span>
          {(p.part || p.kit) && !p.lines?.length && (
            <span className="end nowrap">
              {p.quantity ?? 1} × {p.part ?? p.kit} {p.price && price(p.price, currency)}
            </span>
          )}
        </p>
      ))}
    </section>
  );
}
