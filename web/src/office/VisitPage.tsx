import { Button } from "@mui/material";
import { Fragment, type ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { useMay } from "../session/session";
import type { Closed, VisitPage as Page, VisitView } from "../types";
import { Declined } from "../ui/Declined";
import { FoundBy } from "../ui/FoundBy";
import { duration, longDate, time, timeOrDay } from "../ui/format";
import { Glyph, Tag } from "../ui/Glyph";
import { isLater } from "../ui/later";
import { Answers, Proposed, Readings } from "./checks/VisitChecks";
import { Photos } from "./Photos";
import { Answer, Failure, useCommands, useSettings, useVisitPage } from "./queries";
import { Trail } from "./Trail";
import { Against } from "./visit/Against";
import { CloseVisit } from "./visit/CloseVisit";
import { Conversation } from "./visit/Conversation";
import { Diagnoses } from "./visit/Diagnoses";
import { Asked, FirstLook, Reports, Signatures } from "./visit/Ended";
import { Hours } from "./visit/Hours";
import { Messages } from "./visit/Messages";
import { Parts } from "./visit/Parts";
import { Phoned } from "./visit/Phoned";
import { settling, type VisitSection, visitSections } from "./visit/sections";
import { TasksAndLabels } from "./visit/TasksAndLabels";

/** A visit with everything recorded on it, and how it came about. */
export function VisitPage() {
  const { id = "" } = useParams();
  return (
    <main className="visit-page">
      <VisitBody id={id} />
    </main>
  );
}

/** reviewing: on the page that goes from one finished visit to the next. */
export function VisitBody({ id, reviewing }: { id: string; reviewing?: boolean }) {
  const query = useVisitPage(id);
  return <Answer query={query}>{(page) => <Shown page={page} reviewing={reviewing} />}</Answer>;
}

function Shown({ page, reviewing }: { page: Page; reviewing?: boolean }) {
  const { t } = useTranslation();
  const { view, trail, flags, here, messages, closing, sheets, phoned } = page;
  const parts: Record<VisitSection, ReactNode> = {
    asked: <Asked view={view} />,
    hours: <Hours view={view} />,
    tasks: <TasksAndLabels view={view} />,
    diagnoses: <Diagnoses lines={view.visit.diagnoses ?? []} names={view.names} />,
    talk: <Conversation order={view.visit.order} />,
    messages: <Messages messages={view.visit.messages} names={view.names} states={messages} />,
    readings: <Readings view={view} />,
    parts: <Parts view={view} />,
    answers: <Answers view={view} sheets={sheets} />,
    proposed: <Proposed view={view} />,
    photos: <Photos view={view} here={here} />,
    notes: <Notes view={view} />,
    signatures: <Signatures view={view} />,
    reports: <Reports view={view} />,
  };
  const { first, rest } = settling(page.exceptions.map((e) => e.kind));
  const shown = (list: readonly VisitSection[]) => list.map((p) => <Fragment key={p}>{parts[p]}</Fragment>);
  return (
    <>
      <Head view={view} phoned={phoned} closing={closing} reviewing={reviewing} />
      <div className="visit-columns">
        <div>
          <FirstLook page={page} flags={flags} />
          {shown(reviewing ? first : visitSections)}
        </div>
        {reviewing ? (
          <div>
            {shown(rest)}
            <details className="trail-folded">
              <summary>{t("page.trail")}</summary>
              <Trail lines={trail} visit={view.id} />
            </details>
          </div>
        ) : (
          <Trail lines={trail} visit={view.id} />
        )}
      </div>
    </>
  );
}

function Head({ view, phoned, closing, reviewing }: { view: VisitView; phoned: string[]; closing?: Closed; reviewing?: boolean }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const settings = useSettings().data;
  const { visit, order } = view;
  const name = visit.technician ? view.names[visit.technician] : t("plan.offeredTo", { names: visit.offered?.map((p) => view.names[p]).join(", ") });
  const subject = { type: "visit", id: view.id };
  const [maySend, mayWithdraw, mayClose, mayReview] = [useMay("visit.sent"), useMay("visit.withdrawn"), useMay("visit.closed"), useMay("visit.reviewed")];
  const withdraw = () => commands.mutate([{ kind: "visit.withdrawn", subject, body: {} }]);
  return (
    <header className="visit-page-head">
      <div>
        <h1>{view.site.name}</h1>
        <p className="quiet">
          <Link to={`/office/orders/${visit.order}`}>{t("visit.order", { number: order.number })}</Link> · {view.customer.name}
          {view.asset && ` · ${view.asset.name}`}
        </p>
        <p>{order.problem}</p>
        {order.found && (
          <p className="small quiet">
            <FoundBy found={order.found} />
          </p>
        )}
        <Declined visit={visit} names={view.names} settings={settings} />
        <p className="small quiet">
          {t("page.plannedFor", { name, start: `${longDate(visit.start)} ${time(visit.start)}`, minutes: duration(visit.minutes * 60) })}
        </p>
        {((visit.helpers?.length ?? 0) > 0 || view.things) && (
          <p className="small quiet">{t("page.along", { names: [...(visit.helpers ?? []).map((h) => view.names[h]), ...(view.things ?? [])].join(", ") })}</p>
        )}
        {visit.against && <Against against={visit.against} />}
      </div>
      <div className="visit-page-stage">
        <p className="strong">
          <Glyph stage={view.standing.stage} /> {t(`stage.${view.standing.stage}`)}
          {visit.outcome && ` · ${t(`outcome.${visit.outcome}`)}`}
        </p>
        <p className="small quiet">{t("board.since", { time: timeOrDay(view.standing.since) })}</p>
        {phoned.length > 0 && (
          <p>
            <Tag kind="warn">{t("phoned.by", { names: phoned.join(", ") })}</Tag>
          </p>
        )}
        {view.state && (
          <p className="small">
            {t("page.state")}: {t(`orderState.${view.state}`)}
          </p>
        )}
        {visit.stage === "planned" && maySend && (
          <Button variant="contained" disabled={commands.isPending} onClick={() => commands.mutate([{ kind: "visit.sent", subject, body: {} }])}>
            {t("page.send", { name })}
          </Button>
        )}
        {["planned", "sent", "accepted", "declined"].includes(visit.stage) && mayWithdraw && (
          <Button disabled={commands.isPending} onClick={withdraw}>
            {t("page.withdraw")}
          </Button>
        )}
        <Phoned view={view} />
        {closing && mayClose && ["travelling", "on_site", "paused"].includes(visit.stage) && <CloseVisit view={view} closing={closing} />}
        {view.visit.steps?.some((s) => s.unconfirmed && !s.struck) && !view.visit.steps.some((s) => s.action === "finished" && !s.unconfirmed && !s.struck) && (
          <p>
            <Tag kind="warn">{t("trouble.end_unconfirmed")}</Tag>
          </p>
        )}
        {visit.reviewedAt && <p className="small quiet">{t("page.reviewed", { time: timeOrDay(visit.reviewedAt) })}</p>}
        {!reviewing && mayReview && !visit.reviewedAt && ["finished", "withdrawn"].includes(visit.stage) && (
          <Button variant="contained" disabled={commands.isPending} onClick={() => commands.mutate([{ kind: "visit.reviewed", subject, body: {} }])}>
            {t("page.review")}
          </Button>
        )}
        <Failure error={commands.error} />
      </div>
    </header>
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
              {n.office && ` · ${t("notes.forOffice")}`}
              {isLater(view, n.at) && ` · ${t("page.later")}`}
            </span>
          </span>
        </p>
      ))}
    </section>
  );
}
