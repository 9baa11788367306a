import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import type { TaskLine, VisitView } from "../../types";
import { duration } from "../../ui/format";
import { Mark, Tag } from "../../ui/Glyph";
import { type Recorder, useDevice, useRecord, useSettings } from "../device";

export type TaskAct = "started" | "held" | "done";

/** Acts on a visit's tasks as a person: nobody has more on hold than the company allows. */
export function useTaskAct(view: VisitView, person: string, as?: Recorder) {
  const { t } = useTranslation();
  const { db, tell } = useDevice();
  const settings = useSettings();
  const record = useRecord();
  return async (act: TaskAct, task: string) => {
    if (act === "held" && settings) {
      const orders = (await db.all("workorder")).map((o) => o.body);
      const held = core("holds", { orders, person, rules: settings.orders });
      if (held.count >= held.most) return tell(t("tasks.tooMany", { count: held.most }));
    }
    await record(`task.${act}`, view.id, { order: view.visit.order, task }, { as });
  };
}

/** A task as it stands, with what can be done to it; at the end of one that is done, what is given for that. */
export function TaskRow({ task, onAct, whenDone }: { task: TaskLine; onAct: (act: TaskAct) => void; whenDone?: ReactNode }) {
  const { t } = useTranslation();
  const done = task.act === "done";
  const state = task.running ? "tasks.running" : task.act === "held" ? "tasks.onHold" : done ? "tasks.done" : task.seconds > 59 ? "tasks.begun" : "tasks.open";
  const button = (act: TaskAct, name: string, body: ReactNode) => (
    <button type="button" className="answer" aria-label={name} onClick={() => onAct(act)}>
      {body}
    </button>
  );
  return (
    <div className={`task${task.running ? " running" : ""}`}>
      <span className="grow">
        {done ? (
          <Tag kind="good">
            <span className="task-name">{task.name}</span>
          </Tag>
        ) : (
          <span className={task.running ? "strong" : undefined}>{task.name}</span>
        )}
        <span className="small quiet block">
          {task.machine && `${task.machine} · `}
          {t(state)}
          {task.seconds > 59 && ` · ${duration(task.seconds)}`}
          {task.minutes ? ` · ${t("tasks.expected", { time: duration(task.minutes * 60) })}` : ""}
        </span>
      </span>
      {done ? (
        whenDone
      ) : (
        <span className="task-actions">
          {!task.running && button("started", t("tasks.startNamed", { task: task.name }), t("tasks.start"))}
          {task.act && task.act !== "held" && button("held", t("tasks.holdNamed", { task: task.name }), t("tasks.hold"))}
          {button("done", t("tasks.tickNamed", { task: task.name }), <Mark kind="good" />)}
        </span>
      )}
    </div>
  );
}
