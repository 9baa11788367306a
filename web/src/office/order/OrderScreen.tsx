import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import type { OrderPage, VisitView } from "../../types";
import { shortDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Papers } from "../Papers";
import { Photos } from "../Photos";
import { Answer, useOrderPage } from "../queries";
import { Conversation } from "../visit/Conversation";
import { Diagnoses } from "../visit/Diagnoses";
import { Reports } from "../visit/Ended";
import { Messages } from "../visit/Messages";
import { Actions } from "./Actions";
import { Head } from "./Head";
import { History } from "./History";
import css from "./Order.module.css";
import { Parts } from "./Parts";
import { Tasks } from "./Tasks";
import { Time } from "./Time";
import { VisitRail } from "./VisitRail";

/** A work order: the problem and its tasks, the rail of its visits, parts, hours, what was said and sent, papers, history, and what is done now. */
export function OrderScreen() {
  const { id = "" } = useParams();
  const query = useOrderPage(id);
  return <Answer query={query}>{(page) => <Shown key={id} page={page} />}</Answer>;
}

function Shown({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  return (
    <main className={css.page} aria-label={t("visit.order", { number: page.order.number })}>
      <Head page={page} />
      <VisitRail page={page} />
      <div className={css.columns}>
        <div>
          <Tasks page={page} />
          <Diagnoses lines={page.visits.flatMap((v) => v.visit.diagnoses ?? [])} names={page.names} />
          <Parts page={page} />
        </div>
        <div>
          <Time page={page} />
          <OutOfLimits page={page} />
          <Papers of={{ type: "workorder", id: page.line.id }} papers={page.order.documents} title={t("orderPage.papers")} />
          <FromVisits page={page} />
          <History lines={page.history} />
        </div>
        <div>
          <Conversation order={page.line.id} />
          <Messages messages={page.order.messages} names={page.names} states={page.messages} />
          {page.visits.map((v) => (
            <Messages key={v.id} messages={v.visit.messages} names={page.names} states={page.messages} />
          ))}
        </div>
      </div>
      <Actions page={page} />
    </main>
  );
}

/** Readings of all visits that lie outside their limits. */
function OutOfLimits({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  const out = page.visits.flatMap((v) => v.attention.filter((a) => a.point).map((a) => ({ ...a, visit: v })));
  if (out.length === 0) return null;
  return (
    <section className="sec" aria-label={t("orderPage.limits")}>
      <h2>{t("orderPage.limits")}</h2>
      {out.map((a) => (
        <p className="line" key={a.visit.id + a.key}>
          <span className="grow">
            {nameOf(a.visit, a.asset, a.point)}
            <span className="small quiet block">
              {a.visit.machines.find((m) => m.id === a.asset)?.asset.name} · {shortDate(a.at)}
            </span>
          </span>
          <Tag kind="bad">{[a.value, a.unit].filter(Boolean).join(" ")}</Tag>
        </p>
      ))}
    </section>
  );
}

const nameOf = (view: VisitView, asset?: string, point?: string) => view.readings.find((r) => r.asset === asset && r.point === point)?.pointName ?? point;

/** Reports and photos of all visits. */
function FromVisits({ page }: { page: OrderPage }) {
  return page.visits.map((v) => (
    <div key={v.id}>
      <Reports view={v} />
      <Photos view={v} here={page.here} />
    </div>
  ));
}
