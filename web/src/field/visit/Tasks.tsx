import { Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import type { Order, TaskLine, VisitView } from "../../types";
import { duration } from "../../ui/format";
import { Mark, Tag } from "../../ui/Glyph";
import { screen } from "../../ui/screen";
import { useDevice, usePolicy, useRecord } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

const Scan = screen(() => import("../../ui/Scan"));

/** The work order's tasks. Time goes to the one that runs: starting another is the switch. */
export function Tasks({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db, me, tell } = useDevice();
  const policy = usePolicy();
  const record = useRecord();
  const [scanning, setScanning] = useState(false);
  if (view.tasks.length === 0) return null;
  const order = view.visit.order;
  const act = (kind: "started" | "held" | "done", task: string) => record(`task.${kind}`, view.id, { order, task });
  const hold = async (task: string) => {
    const orders = (await db.all<Order>("workorder")).map((o) => o.body);
    const held = core("holds", { orders, person: me.id, policy: policy! });
    if (held.count >= held.most) tell(t("tasks.tooMany", { count: held.most }));
    else await act("held", task);
  };
  const scanned = async (text: string) => {
    setScanning(false);
    const [, labelOrder, task] = /^ITER-T\/([^/]+)\/([^/]+)$/.exec(text) ?? [];
    const found = labelOrder === order && view.tasks.find((x) => x.id === task);
    if (found) await act("started", found.id);
    else tell(t(labelOrder ? "tasks.otherOrder" : "tasks.noLabel"));
  };
  return (
    <VisitSection
      id="tasks"
      title={t("visit.tasks")}
      end={
        <button type="button" className="link" onClick={() => setScanning(true)}>
          {t("tasks.scan")}
        </button>
      }
    >
      {view.tasks.map((task) => (
        <TaskRow key={task.id} task={task} view={view} onAct={(kind) => (kind === "held" ? void hold(task.id) : void act(kind, task.id))} />
      ))}
      {scanning && (
        <Suspense fallback={null}>
          <Scan title={t("tasks.scan")} onText={scanned} onClose={() => setScanning(false)} />
        </Suspense>
      )}
    </VisitSection>
  );
}

function TaskRow({ task, view, onAct }: { task: TaskLine; view: VisitView; onAct: (kind: "started" | "held" | "done") => void }) {
  const { t } = useTranslation();
  const done = task.act === "done";
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
          {task.running ? t("tasks.running") : task.act === "held" ? t("tasks.onHold") : done ? t("tasks.done") : t("tasks.open")}
          {task.seconds > 59 && ` · ${duration(task.seconds)}`}
          {task.minutes ? ` · ${t("tasks.expected", { time: duration(task.minutes * 60) })}` : ""}
        </span>
      </span>
      {!done && (
        <span className="task-actions">
          {!task.running && (
            <button type="button" className="answer" aria-label={t("tasks.startNamed", { task: task.name })} onClick={() => onAct("started")}>
              {t("tasks.start")}
            </button>
          )}
          {task.act !== "held" && task.act && (
            <button type="button" className="answer" aria-label={t("tasks.holdNamed", { task: task.name })} onClick={() => onAct("held")}>
              {t("tasks.hold")}
            </button>
          )}
          <button type="button" className="answer" aria-label={t("tasks.tickNamed", { task: task.name })} onClick={() => onAct("done")}>
            <Mark kind="good" />
          </button>
        </span>
      )}
      {done && task.entry && (
        <StrikeOut view={view} entry={task.entry} at={actAt(view, task.entry)} kind="task.done" person={task.by ?? ""} order={view.visit.order} />
      )}
    </div>
  );
}

const actAt = (view: VisitView, entry: string) => view.order.taskSteps?.find((s) => s.entry === entry)?.at ?? "";
