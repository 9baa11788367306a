import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { useMay } from "../../session/session";
import type { OrderPage, WorkOpened } from "../../types";
import { isoDate } from "../../ui/format";
import { PlanDrawer } from "../PlanDrawer";
import { Failure, useCommands } from "../queries";
import { type Act, ActDrawer } from "./ActDrawer";
import css from "./Order.module.css";
import { SendOrder } from "./SendOrder";

/** What can be done with the order as it stands. */
const fitting: Record<OrderPage["state"], (Act | "plan" | "released" | "reopened")[]> = {
  open: ["plan", "held", "cancelled", "closed"],
  back: ["plan", "held", "closed", "cancelled"],
  underway: ["plan", "cancelled"],
  on_hold: ["released", "plan", "cancelled", "closed"],
  closed: ["reopened"],
  cancelled: ["reopened"],
};

export function Actions({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const navigate = useNavigate();
  const [planning, setPlanning] = useState(false);
  const [acting, setActing] = useState<Act>();
  const [sending, setSending] = useState(false);
  const [said, setSaid] = useState("");
  const [mayAct, mayPlan, mayOpen, maySend] = [useMay("work.held"), useMay("visit.planned"), useMay("work.opened"), useMay("work.sent")];
  const subject = { type: "workorder", id: page.line.id };
  const begun = page.visits.some((v) => ["travelling", "on_site", "paused"].includes(v.visit.stage));
  const simple = (kind: "work.released" | "work.reopened") =>
    commands.mutate([{ kind, subject, body: {} }], {
      onSuccess: () => setSaid(t(kind === "work.released" ? "orderPage.said.released" : "orderPage.said.reopened")),
    });
  const copy = () => {
    const id = commands.idOf("copy");
    commands.mutate([{ kind: "work.opened", subject: { type: "workorder", id }, body: copyOf(page) }], { onSuccess: () => navigate(`/office/orders/${id}`) });
  };
  const actions = fitting[page.state].filter((a) => (a === "plan" ? mayPlan : mayAct) && !(a === "cancelled" && begun));
  return (
    <footer className={css.foot}>
      {actions.map((a, i) => (
        <Button
          key={a}
          variant={i === 0 ? "contained" : "outlined"}
          disabled={commands.isPending}
          onClick={() => (a === "plan" ? setPlanning(true) : a === "released" || a === "reopened" ? simple(`work.${a}`) : setActing(a))}
        >
          {t(`orderPage.do.${a}`)}
        </Button>
      ))}
      {mayOpen && (
        <Button disabled={commands.isPending} onClick={copy}>
          {t("orderPage.do.copy")}
        </Button>
      )}
      <Button component="a" href={`/api/office/orders/${page.line.id}/paper.pdf`} target="_blank" rel="noreferrer">
        {t("orderPage.do.print")}
      </Button>
      {maySend && <Button onClick={() => setSending(true)}>{t("orderSend.open")}</Button>}
      <span role="status" className="small">
        {said}
      </span>
      <Failure error={commands.error} />
      {planning && <PlanDrawer order={page.line} date={isoDate(Date.now())} onDone={setSaid} onClose={() => setPlanning(false)} />}
      {sending && <SendOrder page={page} onDone={setSaid} onClose={() => setSending(false)} />}
      {acting && <ActDrawer act={acting} page={page} onDone={() => setActing(undefined)} onClose={() => setActing(undefined)} />}
    </footer>
  );
}

/** A new order for more of the same: what is to be done of this one, without when it was promised. */
function copyOf({ order, line }: OrderPage): WorkOpened {
  return {
    customer: order.customer,
    site: order.site,
    asset: order.asset,
    problem: order.problem,
    priority: order.priority,
    minutes: line.minutes,
    kind: order.kind,
    skills: line.skills,
    crew: order.crew,
    things: order.things,
    sheets: order.sheets,
    tasks: order.tasks,
    needs: [...(order.needs ?? []), ...(line.needs ?? [])].map((n) => ({ part: n.part, quantity: n.quantity })),
    instruction: order.instruction,
    theirs: order.theirs,
    people: order.people,
    from: { order: line.id },
  };
}
