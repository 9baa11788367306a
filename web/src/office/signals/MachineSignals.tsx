/** What a machine reports by itself, and what was wrong with it by that. */
import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useDraft } from "../../draft/draft";
import { useMay } from "../../session/session";
import type { IncidentLine } from "../../types";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { plainValue } from "../../ui/plainValue";
import { Reported } from "../../ui/Reported";
import { Failure, useCommands, useQuestion } from "../queries";
import css from "./Signals.module.css";

export function MachineSignals({ asset }: { asset: string }) {
  const { t } = useTranslation();
  const page = useQuestion("/api/office/signals/machines/:asset", { asset }, { refetchInterval: 15_000 }).data;
  if (!page || (page.latest.length === 0 && page.incidents.length === 0)) return null;
  return (
    <section className="sec" aria-label={t("signals.reports")}>
      <h2>{t("signals.reports")}</h2>
      {page.latest.length > 0 && (
        <table className="table">
          <tbody>
            {page.latest.map((p) => (
              <tr key={p.point}>
                <td>{p.name}</td>
                <td>
                  {p.level === "ok" ? (
                    `${plainValue(p.value)} ${p.unit ?? ""}`
                  ) : (
                    <Tag kind={p.level.startsWith("alarm") ? "bad" : "warn"}>{`${plainValue(p.value)} ${p.unit ?? ""}`}</Tag>
                  )}
                </td>
                <td className="small quiet">{timeOrDay(p.at)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {page.incidents.map((i) => (
        <Incident key={i.id} incident={i} />
      ))}
      {page.more && <p className="small quiet">{t("signals.moreIncidents", { count: page.incidents.length })}</p>}
    </section>
  );
}

function Incident({ incident: i }: { incident: IncidentLine }) {
  const { t } = useTranslation();
  const may = useMay("incident.handled");
  const [open, setOpen] = useState(!i.ended);
  return (
    <div className="line">
      <div className="grow">
        <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
          {i.rule.text}
        </button>{" "}
        {i.ended ? <Tag kind="good">{t("signals.well", { time: timeOrDay(i.ended) })}</Tag> : <Tag kind="bad">{t("signals.open")}</Tag>}
        {i.order && i.number && (
          <span className={`small ${css.order}`}>
            <Link to={`/office/orders/${i.order}`}>{t("visit.order", { number: i.number })}</Link>
          </span>
        )}
        {open && <Reported point={i.point} unit={i.unit} since={i.since} values={i.values} limit={i.rule.when === "rate" ? undefined : i.rule.limit} />}
        {i.handled && <p className="small quiet">{t("signals.handledBy", { name: i.by, note: i.handled.note })}</p>}
        {may && i.rule.do === "attend" && !i.handled && <Handle id={i.id} />}
      </div>
    </div>
  );
}

/** Says what came of it: then nobody is asked to look at it any more. */
function Handle({ id }: { id: string }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const draft = useDraft(`incident ${id}`, { note: "" });
  const { note } = draft.value;
  const record = () =>
    commands.mutate([{ kind: "incident.handled", subject: { type: "incident", id }, body: { note: note.trim() } }], { onSuccess: () => draft.clear() });
  return (
    <div className="pair">
      <TextField
        size="small"
        label={t("signals.note")}
        value={note}
        onChange={(e) => draft.change({ note: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 500 } }}
      />
      <Button disabled={commands.isPending || !note.trim()} onClick={record}>
        {t("signals.handle")}
      </Button>
      <Failure error={commands.error} />
    </div>
  );
}
