import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useRecord, useSettings } from "../field/device";
import { endOf, endsNow } from "../field/finish/outcomes";
import { TaskRow, useTaskAct } from "../field/visit/TaskRow";
import type { Outcome, OutcomeRule, VisitView } from "../types";
import type { Present } from "./people";

/** Somebody's tasks: those that run first, then those on hold, then those to begin. */
export function TaskList({ person, views }: { person: Present; views: VisitView[] }) {
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

function VisitTasks({ view, person }: { view: VisitView; person: Present }) {
  const { t } = useTranslation();
  const record = useRecord();
  const act = useTaskAct(view, person.person, person);
  const [finishing, setFinishing] = useState(false);
  const settings = useSettings();
  const finish = async (o: OutcomeRule) => {
    setFinishing(false);
    await record("visit.finished", view.id, endOf(o, view), { as: person });
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
        <TaskRow key={task.id} task={task} onAct={(a) => void act(a, task.id)} />
      ))}
      {begun && !finishing && (
        <button type="button" className="answer" onClick={() => setFinishing(true)}>
          {t("terminal.finish")}
        </button>
      )}
      {finishing && (
        <div className="options">
          {endsNow(settings, view)
            .filter((o) => o.id === "complete" || o.id === "return_needed")
            .map((o) => (
              <button key={o.id} type="button" onClick={() => finish(o)}>
                {o.text || t(`outcome.${o.id as Outcome}`)}
              </button>
            ))}
        </div>
      )}
    </div>
  );
}
