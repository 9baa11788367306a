import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraftText } from "../../draft/draft";
import type { TaskLine, VisitView } from "../../types";
import { useRecord, useSettings } from "../device";

/** How a task came out: one of the company's results, and a remark. */
export function TaskNote({ view, task }: { view: VisitView; task: TaskLine }) {
  const { t } = useTranslation();
  const record = useRecord();
  const results = useSettings()?.orders.results ?? [];
  const [writing, setWriting] = useState(false);
  const [text, type] = useDraftText(`remark ${view.id} ${task.id}`);
  const note = (said: { result?: string; remark?: string }) =>
    record("task.noted", view.id, { order: view.visit.order, task: task.id, result: task.result, remark: task.remark, ...said });
  const save = async () => {
    if (!(await note({ remark: text.trim() }))) return;
    type("");
    setWriting(false);
  };
  return (
    <div className="task-note">
      <span className="further">
        {results.map((r) => (
          <button
            type="button"
            className="chip"
            key={r.id}
            aria-pressed={task.result === r.id}
            aria-label={t("tasks.result", { task: task.name, result: r.text })}
            onClick={() => task.result !== r.id && void note({ result: r.id })}
          >
            {r.text}
          </button>
        ))}
        {!writing && !text && (
          <button type="button" className="chip" aria-label={t("tasks.remarkNamed", { task: task.name })} onClick={() => setWriting(true)}>
            {t("tasks.remark")}
          </button>
        )}
      </span>
      {task.remark && <p className="small pre">{task.remark}</p>}
      {(writing || text) && (
        <div className="note-entry">
          <TextField
            label={t("tasks.remark")}
            value={text}
            onChange={(e) => type(e.target.value)}
            autoFocus={writing}
            multiline
            slotProps={{ htmlInput: { maxLength: 2000 } }}
          />
          <Button variant="contained" disabled={!text.trim()} onClick={() => void save()}>
            {t("tasks.keepRemark")}
          </Button>
        </div>
      )}
    </div>
  );
}
