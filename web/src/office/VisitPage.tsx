import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import type { Closed, Notice, VisitPage as Page, VisitView } from "../types";
import { duration, longDate, time, timeOrDay } from "../ui/format";
import { Glyph, Tag } from "../ui/Glyph";
import { SignatureImage } from "../ui/SignatureImage";
import { say } from "../words/i18n";
import { Answers, Proposed, Readings } from "./checks/VisitChecks";
import { FlagLine } from "./Look";
import { Photos } from "./Photos";
import { Answer, Failure, useCommands, useVisitPage } from "./queries";
import { Trail } from "./Trail";
import { CloseVisit } from "./visit/CloseVisit";
import { Hours } from "./visit/Hours";
import { Messages } from "./visit/Messages";
import { Parts } from "./visit/Parts";
import { TasksAndLabels } from "./visit/TasksAndLabels";

/** A visit with everything recorded on it, and how it came about. */
export function VisitPage() {
  const query = useVisitPage(useParams().id ?? "");
  return <Answer query={query}>{(page) => <Shown page={page} />}</Answer>;
}

function Shown({ page: { view, trail, flags, here, messages, closing, sheets } }: { page: Page }) {
  return (
    <main className="visit-page">
      <Head view={view} closing={closing} />
      <div className="visit-columns">
        <div>
          <Flags flags={flags} view={view} />
          <Hours view={view} />
          <TasksAndLabels view={view} />
          <Messages view={view} states={messages} />
          <Readings view={view} />
          <Parts view={view} />
          <Answers view={view} sheets={sheets} />
          <Proposed view={view} />
          <Photos view={view} here={here} />
          <Notes view={view} />
          <Signatures view={view} />
        </div>
        <Trail lines={trail} visit={view.id} />
      </div>
    </main>
  );
}

function Head({ view, closing }: { view: VisitView; closing?: Closed }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const { visit, order } = view;
  const name = visit.technician ? view.names[visit.technician] : t("plan.offeredTo", { names: visit.offered?.map((p) => view.names[p]).join(", ") });
  const subject = { type: "visit", id: view.id };
  return (
    <header className="visit-page-head">
      <div>
        <h1>{view.site.name}</h1>
        <p className="quiet">
          {t("visit.order", { number: order.number })} · {view.customer.name}
          {view.asset && ` · ${view.asset.name}`}
        </p>
        <p>{order.problem}</p>
        <p className="small quiet">
          {t("page.plannedFor", { name, start: `${longDate(visit.start)} ${time(visit.start)}`, minutes: duration(visit.minutes * 60) })}
        </p>
      </div>
      <div className="visit-page-stage">
        <p className="strong">
          <Glyph stage={visit.stage} /> {t(`stage.${visit.stage}`)}
          {visit.outcome && ` · ${t(`outcome.${visit.outcome}`)}`}
        </p>
        <p className="small quiet">{t("board.since", { time: timeOrDay(visit.since) })}</p>
        {visit.stage === "planned" && (
          <Button variant="contained" disabled={commands.isPending} onClick={() => commands.mutate([{ kind: "visit.sent", subject, body: {} }])}>
            {t("page.send", { name })}
          </Button>
        )}
        {["planned", "sent", "accepted", "declined"].includes(visit.stage) && (
          <Button disabled={commands.isPending} onClick={() => commands.mutate([{ kind: "visit.withdrawn", subject, body: {} }])}>
            {t("page.withdraw")}
          </Button>
        )}
        {closing && ["travelling", "on_site", "paused"].includes(visit.stage) && <CloseVisit view={view} closing={closing} />}
        {view.visit.steps?.some((s) => s.unconfirmed && !s.struck) && !view.visit.steps.some((s) => s.action === "finished" && !s.unconfirmed && !s.struck) && (
          <p>
            <Tag kind="warn">{t("trouble.end_unconfirmed")}</Tag>
          </p>
        )}
        {visit.reviewedAt && <p className="small quiet">{t("page.reviewed", { time: timeOrDay(visit.reviewedAt) })}</p>}
        {!visit.reviewedAt && ["finished", "withdrawn"].includes(visit.stage) && (
          <Button variant="contained" disabled={commands.isPending} onClick={() => commands.mutate([{ kind: "visit.reviewed", subject, body: {} }])}>
            {t("page.review")}
          </Button>
        )}
        <Failure error={commands.error} />
      </div>
    </header>
  );
}

function Flags({ flags, view }: { flags: Notice[]; view: VisitView }) {
  const { t } = useTranslation();
  const over = view.visit.stage === "finished";
  const missing = over ? view.missing : [];
  if (flags.length === 0 && missing.length === 0 && !view.changed) return null;
  return (
    <section className="sec">
      <h2>{t("page.flags")}</h2>
      {flags.map((f) => (
        <FlagLine key={f.code + f.person} flag={{ ...f, name: view.names[f.person] ?? f.person }} here />
      ))}
      {missing.map((m) => (
        <p className="line" key={m.code + JSON.stringify(m.args)}>
          <Tag kind="warn">{m.code === "missing.signature" ? t("page.unsigned") : say(m)}</Tag>
        </p>
      ))}
      {view.changed && (
        <p className="line">
          <Tag kind="warn">{t("sign.changed")}</Tag>
        </p>
      )}
    </section>
  );
}

function Notes({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const notes = view.visit.notes ?? [];
  return (
    <section className="sec" aria-label={t("visit.notes")}>
      <h2>{t("visit.notes")}</h2>
      {notes.length === 0 && <p className="quiet">{t("page.nothing")}</p>}
      {notes.map((n) => (
        <p className={`line pre${n.struck ? " struck" : ""}`} key={n.entry}>
          <span className="grow">
            {n.text}
            <span className="tiny quiet block">
              {view.names[n.person]} · {timeOrDay(n.at)}
            </span>
          </span>
        </p>
      ))}
    </section>
  );
}

function Signatures({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const all = view.visit.signatures?.filter((s) => !s.struck) ?? [];
  return (
    <section className="sec" aria-label={t("page.signature")}>
      <h2>{t("page.signature")}</h2>
      {all.length === 0 && <p className="quiet">{t("page.unsigned")}</p>}
      {all.map((s) => (
        <figure key={s.entry} className="signed">
          <SignatureImage strokes={s.strokes} />
          <figcaption>
            {t("sign.by", { name: s.name, role: s.role })} · {t("sign.on", { time: timeOrDay(s.at) })}
            <span className="tiny quiet block">{t("page.digest", { digest: s.digest.slice(0, 12) })}</span>
          </figcaption>
        </figure>
      ))}
    </section>
  );
}
