import { useState } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../device/core";
import { useDevice, usePolicy, useRecord } from "../field/device";
import type { Order, Outcome, TaskLine, TerminalPerson, VisitView } from "../types";
import { duration } from "../ui/format";
import { Mark, Tag } from "../ui/Glyph";

/** Somebody's tasks: those that run first, then those on hold, then those to begin. */
export function TaskList({ person, views }: { person: TerminalPerson; views: VisitView[] }) {
  const { t } = useTranslation();
  const rank = (v: VisitView) => (v.tasks.some((x) => x.running) ? 0 : v.tasks.some((x) => x.act === "held") ? 1 : 2);
  const withTasks = views.filter((v) => v.tasks.length > 0).sort((a, b) => rank(a) - rank(b) || a.visit.start.localeCompare(b.visit.start));
  return (
    <section className="sec terminal-tasks" aria-label={t("visit.tasks")}>
      <h2>{t("visit.tasks")}</h2>
      {withTasks.length === 0 && <p className="quiet">{t("terminal.noTasks")}</p>}
      {withTasks.map((v) => (
        <VisitTasks key={v.id} view={v} person={person} />
      ))}
    </section>
  );
}

function VisitTasks({ view, person }: { view: VisitView; person: TerminalPerson }) {
  const { t } = useTranslation();
  const { db, tell } = useDevice();
  const policy = usePolicy();
  const record = useRecord();
  const [finishing, setFinishing] = useState(false);
  const as = { actor: person.person };
  const act = (kind: "started" | "held" | "done", task: string) => record(`task.${kind}`, view.id, { order: view.visit.order, task }, as);
  const hold = async (task: string) => {
    const orders = (await db.all<Order>("workorder")).map((o) => o.body);
    const held = core("holds", { orders, person: person.person, policy: policy! });
    if (held.count >= held.most) tell(t("tasks.tooMany", { count: held.most }));
    else await act("held", task);
  };
  const finish = async (outcome: Outcome) => {
    setFinishing(false);
    await record("visit.finished", view.id, { outcome }, as);
  };
  const begun = ["on_site", "paused", "travelling"].includes(view.visit.stage) && view.visit.technician === person.person;
  return (
    <div className="terminal-visit">
      <p>
        <b>{view.site.name}</b>{" "}
        <span className="small quiet">
          {view.order.number} · {view.order.problem}
        </span>
      </p>
      {view.tasks.map((task) => (
        <Row key={task.id} task={task} onAct={(kind) => (kind === "held" ? void hold(task.id) : void act(kind, task.id))} />
      ))}
      {begun && !finishing && (
        <button type="button" className="answer" onClick={() => setFinishing(true)}>
          {t("terminal.finish")}
        </button>
      )}
      {finishing && (
        <div className="options">
          {(["complete", "return_needed"] as const).map((o) => (
            <button key={o} type="button" onClick={() => finish(o)}>
              {t(`outcome.${o}`)}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

function Row({ task, onAct }: { task: TaskLine; onAct: (kind: "started" | "held" | "done") => void }) {
  const { t } = useTranslation();
  if (task.act === "done") {
    return (
      <p className="task">
        <Tag kind="good">
          <span className="task-name">{task.name}</span>
        </Tag>
      </p>
    );
  }
  return (
    <div className={`task${task.running ? " running" : ""}`}>
      <span className="grow">
        {task.name}
        <span className="small quiet block">
          {task.running ? t("tasks.running") : task.act === "held" ? t("tasks.onHold") : t("tasks.open")}
          {task.seconds > 59 && ` · ${duration(task.seconds)}`}
        </span>
      </span>
      <span className="task-actions">
        {!task.running && (
          <button type="button" className="answer" aria-label={t("tasks.startNamed", { task: task.name })} onClick={() => onAct("started")}>
            {t("tasks.start")}
          </button>
        )}
        {task.act && task.act !== "held" && (
          <button type="button" className="answer" aria-label={t("tasks.holdNamed", { task: task.name })} onClick={() => onAct("held")}>
            {t("tasks.hold")}
          </button>
        )}
        <button type="button" className="answer" aria-label={t("tasks.tickNamed", { task: task.name })} onClick={() => onAct("done")}>
          <Mark kind="good" />
        </button>
      </span>
    </div>
  );
}
