import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../device/live";
import { loadVisit, useDevice, useRecord } from "../field/device";
import { type TaskAct, TaskRow } from "../field/visit/TaskRow";
import type { VisitView } from "../types";
import { useTurns } from "../ui/turns";
import { useWedge } from "../ui/wedge";
import type { Present } from "./people";

/** What the label of a step says first: ITER-T/order/step. */
const labelPrefix = "ITER-T/";

const over = ["finished", "withdrawn", "declined"];

/** A step of any visit of today, begun from its printed label or by the order's number: whoever was not planned on it joins in. */
export function AnyStep({ person }: { person: Present }) {
  const { t } = useTranslation();
  const { db, tell } = useDevice();
  const record = useRecord();
  const [number, setNumber] = useState("");
  const visitOf = async (order: string) => {
    const open = (await db.all("visit")).filter((v) => v.body.order === order && !over.includes(v.body.stage));
    const own = open.find((v) => v.body.technician === person.person || v.body.helpers?.includes(person.person));
    return (own ?? open[0])?.id;
  };
  const found = useLive(
    db,
    async (db) => {
      const order = (await db.all("workorder")).find((o) => o.body.number === number.trim());
      const id = order && (await visitOf(order.id));
      return id ? await loadVisit(db, id) : undefined;
    },
    [number],
  );
  const take = async (view: VisitView, act: TaskAct, task: string) => {
    const on = view.visit.technician === person.person || view.visit.helpers?.includes(person.person);
    if (!on && !(await record("crew.joined", view.id, {}, { as: person }))) return;
    if (await record(`task.${act}`, view.id, { order: view.visit.order, task }, { as: person })) setNumber("");
  };
  const scanned = useTurns(true, async (text: string) => {
    const [order, task] = text.slice(labelPrefix.length).split("/");
    const id = await visitOf(order);
    const view = id ? await loadVisit(db, id) : undefined;
    if (view?.tasks.some((x) => x.id === task)) await take(view, "started", task);
    else tell(t("terminal.stepNone"));
  });
  useWedge(scanned, { prefix: labelPrefix });
  return (
    <section className="sec" aria-label={t("terminal.step")}>
      <h2>{t("terminal.step")}</h2>
      <p className="small quiet">{t("terminal.stepHint")}</p>
      <TextField
        label={t("terminal.stepNumber")}
        value={number}
        onChange={(e) => setNumber(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 40, autoComplete: "off" } }}
      />
      {number.trim().length > 2 && !found && <p className="quiet small">{t("terminal.stepNone")}</p>}
      {found && (
        <p className="small">
          <b>{found.site.name}</b> <span className="quiet">{found.order.problem}</span>
        </p>
      )}
      {found?.tasks.map((task) => (
        <TaskRow key={task.id} task={task} onAct={(act) => void take(found, act, task.id)} />
      ))}
      {found && found.tasks.length === 0 && <p className="quiet small">{t("terminal.stepNoTasks")}</p>}
    </section>
  );
}
