import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { duration } from "../../ui/format";
import { Mark, Tag } from "../../ui/Glyph";
import { useSettings } from "../queries";

/** The work order's tasks, with the labels that start them when they are scanned. */
export function TasksAndLabels({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [labels, setLabels] = useState(false);
  const results = useSettings().data?.orders.results ?? [];
  if (view.tasks.length === 0) return null;
  return (
    <section className="sec" aria-label={t("visit.tasks")}>
      <h2>
        {t("visit.tasks")}
        <button type="button" className="link small" onClick={() => setLabels(!labels)}>
          {t(labels ? "labels.hide" : "labels.show")}
        </button>
      </h2>
      {view.tasks.map((task) => (
        <div key={task.id}>
          <p className="line">
            <Mark kind={task.act === "done" ? "good" : "todo"} />
            <span className="grow">
              {task.name}
              {(task.machine || task.result || task.remark) && (
                <span className="small quiet block">
                  {[task.machine, results.find((r) => r.id === task.result)?.text ?? task.result, task.remark].filter(Boolean).join(" · ")}
                </span>
              )}
              {task.act === "held" && (
                <span className="block">
                  <Tag kind="warn">{t("tasks.onHold")}</Tag>
                </span>
              )}
            </span>
            <span className="end">{task.seconds > 59 ? duration(task.seconds) : ""}</span>
          </p>
          {labels && <Label text={task.label} name={`${view.order.number} · ${task.name}`} />}
        </div>
      ))}
      {labels && (
        <button type="button" className="link" onClick={() => print()}>
          {t("labels.print")}
        </button>
      )}
    </section>
  );
}

/** A label as QR and as Code 128, to be printed. */
export function Label({ text, name }: { text: string; name: string }) {
  const url = `/api/office/label?text=${encodeURIComponent(text)}`;
  return (
    <figure className="label">
      <img src={url} alt={`QR: ${text}`} height={120} />
      <img src={`${url}&kind=code128`} alt={`Code 128: ${text}`} height={72} />
      <figcaption className="small">{name}</figcaption>
    </figure>
  );
}
