import { Button, Drawer, MenuItem, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import type { VisitPlan } from "../types";
import { isoDate, momentOf, time } from "../ui/format";
import { Failure, type Order, useBoard, useCommands } from "./queries";

interface Props {
  order: { id: string; number: string; problem: string; site: string; minutes: number };
  date: string;
  onClose: () => void;
  onDone?: (sentence: string) => void;
}

/** Who goes, and when. */
export function PlanDrawer({ order, date, onClose, onDone }: Props) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [who, setWho] = useState("");
  const [day, setDay] = useState(date < isoDate(Date.now()) ? isoDate(Date.now()) : date);
  const [start, setStart] = useState(() => time(Math.ceil((Date.now() + 1_800_000) / 900_000) * 900_000));
  const [minutes, setMinutes] = useState(String(order.minutes));
  const people = useBoard(day).data?.people ?? [];
  const busy = people.find((p) => p.id === who)?.visits.length ?? 0;

  const plan = async (send: boolean) => {
    const subject = { type: "visit", id: ulid() };
    const at = momentOf(day, start);
    const body: VisitPlan = { order: order.id, technician: who, start: at.toISOString(), minutes: Math.round(Number(minutes)) };
    const all: Order[] = [{ kind: "visit.planned", subject, body }];
    if (send) all.push({ kind: "visit.sent", subject, body: {} });
    await commands.mutateAsync(all);
    onDone?.(t(send ? "plan.sent" : "plan.planned", { name: people.find((p) => p.id === who)?.name }));
    onClose();
  };
  const submit = (e: FormEvent) => {
    e.preventDefault();
    plan(true).catch(() => {}); // said below
  };
  return (
    <Drawer anchor="right" open onClose={onClose} slotProps={{ paper: { "aria-label": t("plan.title"), role: "dialog" } }}>
      <form className="plan-form" onSubmit={submit}>
        <h1>{t("plan.title")}</h1>
        <p>
          <span className="strong block">{order.problem}</span>
          <span className="quiet">
            {order.site} · {order.number}
          </span>
        </p>
        <TextField select label={t("plan.technician")} value={who} onChange={(e) => setWho(e.target.value)} required>
          {people.map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.name}
            </MenuItem>
          ))}
        </TextField>
        {who && <p className="small quiet">{t("plan.others", { count: busy })}</p>}
        <TextField
          type="date"
          label={t("plan.date")}
          value={day}
          onChange={(e) => setDay(e.target.value)}
          required
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <TextField
          type="time"
          label={t("plan.start")}
          value={start}
          onChange={(e) => setStart(e.target.value)}
          required
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <TextField
          type="number"
          label={t("plan.minutes")}
          value={minutes}
          onChange={(e) => setMinutes(e.target.value)}
          required
          slotProps={{ htmlInput: { min: 1, max: 20160 } }}
        />
        <Failure error={commands.error} />
        <div className="plan-actions">
          <Button type="submit" variant="contained" disabled={!who || commands.isPending}>
            {t("plan.send")}
          </Button>
          <Button disabled={!who || commands.isPending} onClick={() => plan(false).catch(() => {})}>
            {t("plan.keep")}
          </Button>
          <button type="button" className="link" onClick={onClose}>
            {t("choose.cancel")}
          </button>
        </div>
      </form>
    </Drawer>
  );
}
