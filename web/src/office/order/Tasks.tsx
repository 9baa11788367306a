import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import { useDraft } from "../../draft/draft";
import { rightTo, useMay } from "../../session/session";
import type { OrderPage, Task, TaskStep } from "../../types";
import { duration } from "../../ui/format";
import { Mark, Tag } from "../../ui/Glyph";
import { Failure, useCommands, useSettings } from "../queries";
import css from "./Order.module.css";

/** The last act on a task that holds. */
const standing = (steps: TaskStep[], task: string) => steps.filter((s) => s.task === task && !s.struck).at(-1);

/** The steps of the work, each with what was done to it; the office adds, moves and takes away. */
export function Tasks({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const may = useMay(rightTo("record.amended", "workorder")) && !["closed", "cancelled"].includes(page.state);
  const tasks = page.order.tasks ?? [];
  const all: (Task & { person?: string })[] = [...tasks, ...(page.order.added ?? []).filter((a) => !a.struck)];
  const steps = page.order.taskSteps ?? [];
  const set = (to: Task[], then?: () => void) =>
    commands.mutate([{ kind: "record.amended", subject: { type: "workorder", id: page.line.id }, body: { tasks: to }, base: { tasks } }], { onSuccess: then });
  const results = useSettings().data?.orders.results ?? [];
  const note = (id: string) => page.order.taskNotes?.filter((n) => n.task === id && !n.struck).at(-1);
  const seconds = (id: string) => page.visits.reduce((n, v) => n + (v.tasks.find((x) => x.id === id)?.seconds ?? 0), 0);
  const move = (i: number, by: number) => {
    const to = [...tasks];
    to.splice(i + by, 0, ...to.splice(i, 1));
    set(to);
  };
  return (
    <section className="sec" aria-label={t("orderPage.tasks")}>
      <h2>{t("orderPage.tasks")}</h2>
      {all.length === 0 && <p className="quiet">{t("orderPage.noTasks")}</p>}
      {all.map((task, i) => {
        const added = i >= tasks.length;
        const last = standing(steps, task.id);
        const running = page.visits.some((v) => v.tasks.find((x) => x.id === task.id)?.running);
        const machine = page.machines.find((m) => m.id === task.asset)?.name;
        return (
          <div className="line" key={task.id}>
            <span className="grow">
              {last?.act === "done" && <Mark kind="good" />} {task.name}
              <span className="small quiet block">
                {[
                  machine,
                  seconds(task.id) > 0 && duration(seconds(task.id)),
                  task.minutes && t("orderPage.expected", { time: duration(task.minutes * 60) }),
                  added && t("orderPage.task.added", { person: page.names[task.person ?? ""] }),
                  last?.reason,
                  results.find((r) => r.id === note(task.id)?.result)?.text ?? note(task.id)?.result,
                  note(task.id)?.remark,
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </span>
            </span>
            <span className="nowrap small">{running ? <Tag kind="warn">{t("orderPage.task.now")}</Tag> : t(`orderPage.task.${last?.act ?? "open"}`)}</span>
            {may && !added && (
              <span className={css.moves}>
                <button
                  type="button"
                  className="link small"
                  disabled={i === 0 || commands.isPending}
                  onClick={() => move(i, -1)}
                  aria-label={t("orderPage.task.up", { task: task.name })}
                >
                  ↑
                </button>
                <button
                  type="button"
                  className="link small"
                  disabled={i === tasks.length - 1 || commands.isPending}
                  onClick={() => move(i, 1)}
                  aria-label={t("orderPage.task.down", { task: task.name })}
                >
                  ↓
                </button>
                {!last && (
                  <button
                    type="button"
                    className="link small"
                    disabled={commands.isPending}
                    onClick={() => set(tasks.filter((x) => x !== task))}
                    aria-label={t("orderPage.task.drop", { task: task.name })}
                  >
                    {t("parts.drop")}
                  </button>
                )}
              </span>
            )}
          </div>
        );
      })}
      {may && <AddTask page={page} busy={commands.isPending} onAdd={(task, then) => set([...tasks, task], then)} />}
      <Failure error={commands.error} />
    </section>
  );
}

function AddTask({ page, busy, onAdd }: { page: OrderPage; busy: boolean; onAdd: (task: Task, then: () => void) => void }) {
  const { t } = useTranslation();
  const draft = useDraft(`task for ${page.line.id}`, { name: "", asset: "" });
  const { name, asset } = draft.value;
  return (
    <form
      className={css.add}
      onSubmit={(e) => {
        e.preventDefault();
        onAdd({ id: ulid().toLowerCase(), name: name.trim(), asset: asset || undefined }, draft.clear);
      }}
    >
      <TextField
        label={t("orderPage.task.add")}
        value={name}
        onChange={(e) => draft.change({ name: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
      />
      {page.machines.length > 1 && (
        <TextField select label={t("intake.asset")} value={asset} onChange={(e) => draft.change({ asset: e.target.value })}>
          <MenuItem value="">{t("orderPage.task.any")}</MenuItem>
          {page.machines.map((m) => (
            <MenuItem key={m.id} value={m.id}>
              {m.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Button type="submit" disabled={!name.trim() || busy}>
        {t("orderPage.add")}
      </Button>
    </form>
  );
}
