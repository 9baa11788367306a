import { Fragment, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { screen } from "../../ui/screen";
import { useDevice } from "../device";
import { StrikeOut } from "./StrikeOut";
import { TaskNote } from "./TaskNote";
import { TaskRow, useTaskAct } from "./TaskRow";
import { VisitSection } from "./VisitSection";

const AddTask = screen(() => import("./AddTask"));
const Scan = screen(() => import("../../ui/Scan"));

/** The work order's tasks. Time goes to the one that runs: starting another is the switch. */
export function Tasks({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { me, tell } = useDevice();
  const act = useTaskAct(view, me.id);
  const [scanning, setScanning] = useState(false);
  const [adding, setAdding] = useState(false);
  const scanned = async (text: string) => {
    setScanning(false);
    const found = view.tasks.find((x) => x.label === text);
    if (found) await act("started", found.id);
    else tell(t("tasks.noLabel"));
  };
  return (
    <VisitSection
      id="tasks"
      title={t("visit.tasks")}
      end={
        view.tasks.length > 0 && (
          <button type="button" className="link" onClick={() => setScanning(true)}>
            {t("tasks.scan")}
          </button>
        )
      }
    >
      {view.tasks.map((task) => {
        const step = view.order.taskSteps?.find((s) => s.entry === task.entry);
        const strike = step && <StrikeOut view={view} line={step} kind="task.done" />;
        const added = !task.act && task.added === me.id && view.order.added?.find((a) => a.id === task.id);
        return (
          <Fragment key={task.id}>
            <TaskRow task={task} onAct={(a) => void act(a, task.id)} whenDone={strike} />
            {added && <StrikeOut view={view} line={added} kind="task.added" />}
            {(task.act === "done" || task.running || task.result || task.remark) && <TaskNote view={view} task={task} />}
          </Fragment>
        );
      })}
      <button type="button" className="link" onClick={() => setAdding(true)}>
        {t("tasks.add")}
      </button>
      {adding && (
        <Suspense fallback={null}>
          <AddTask view={view} onClose={() => setAdding(false)} />
        </Suspense>
      )}
      {scanning && (
        <Suspense fallback={null}>
          <Scan title={t("tasks.scan")} onText={scanned} onClose={() => setScanning(false)} />
        </Suspense>
      )}
    </VisitSection>
  );
}
