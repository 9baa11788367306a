import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { rightTo, useMay } from "../../session/session";
import type { UndertakingPage as Page } from "../../types";
import { Empty } from "../../ui/Empty";
import { duration, quantity, shortDate } from "../../ui/format";
import { HoursByKind } from "../../ui/HoursByKind";
import { useQuestion } from "../commands";
import { Answer, Failure, useCommands } from "../queries";
import { EditUndertaking } from "./EditUndertaking";

/** An undertaking: its work orders, and what hours, parts and papers they come to. */
export default function UndertakingPage() {
  const { id = "" } = useParams();
  return <Answer query={useQuestion("/api/office/undertakings/:id", { id })}>{(page) => <Shown key={id} page={page} />}</Answer>;
}

function Shown({ page }: { page: Page }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const may = useMay(rightTo("record.amended", "undertaking"));
  const [editing, setEditing] = useState(false);
  const { undertaking: u, orders, hours } = page;
  const name = (id: string) => page.office.find((p) => p.id === id)?.name ?? id;
  const open = orders.filter((o) => !["closed", "cancelled"].includes(o.state)).length;
  const finish = () =>
    commands.mutate([{ kind: "record.amended", subject: { type: "undertaking", id: page.id }, body: { done: !u.done }, base: { done: u.done ?? null } }]);
  return (
    <main className="visit-page">
      <header className="visit-page-head">
        <div>
          <p className="small quiet">
            <Link to="/office/undertakings">{t("undertaking.all")}</Link>
            {u.responsible && ` · ${t("undertaking.by", { name: name(u.responsible) })}`}
            {u.seers?.length ? ` · ${t("undertaking.seenBy", { names: u.seers.map(name).join(", ") })}` : ""}
          </p>
          <h1>{u.name}</h1>
          <p className="small">
            {[t("undertaking.open", { open, count: orders.length + page.more }), u.done && t("undertaking.done")].filter(Boolean).join(" · ")}
          </p>
        </div>
        {may && (
          <p>
            <Button variant="outlined" onClick={() => setEditing(true)}>
              {t("people.change")}
            </Button>{" "}
            <Button disabled={commands.isPending} onClick={finish}>
              {t(u.done ? "undertaking.again" : "undertaking.finish")}
            </Button>
          </p>
        )}
      </header>
      <Failure error={commands.error} />
      <div className="visit-columns">
        <div>
          {u.note && <p className="pre">{u.note}</p>}
          <section className="sec" aria-label={t("undertaking.work")}>
            <h2>{t("undertaking.work")}</h2>
            {orders.length === 0 && <Empty>{t("undertaking.noOrders")}</Empty>}
            {orders.map((o) => (
              <div className="line" key={o.id}>
                <span className="grow">
                  <Link to={`/office/orders/${o.id}`}>{o.number}</Link> {o.problem}
                  <span className="small quiet block">
                    {[o.customer, o.siteName, shortDate(o.opened), t(`orderState.${o.state}`)].filter(Boolean).join(" · ")}
                  </span>
                </span>
                <span className="end">{o.hours.work > 59 ? duration(o.hours.work) : ""}</span>
              </div>
            ))}
            {page.more > 0 && <p className="small quiet">{t("undertaking.more", { count: page.more })}</p>}
          </section>
        </div>
        <div>
          <section className="sec" aria-label={t("page.hours")}>
            <h2>{t("page.hours")}</h2>
            <HoursByKind hours={hours} />
          </section>
          <section className="sec" aria-label={t("visit.parts")}>
            <h2>{t("visit.parts")}</h2>
            {page.parts.length === 0 && <p className="quiet">{t("undertaking.noParts")}</p>}
            {page.parts.map((p) => (
              <p className="line" key={p.part}>
                <span className="grow">
                  {p.name} <span className="small quiet">{p.number}</span>
                </span>
                <span className="end">{quantity(p.quantity, p.unit)}</span>
              </p>
            ))}
          </section>
          <section className="sec" aria-label={t("records.papers")}>
            <h2>{t("records.papers")}</h2>
            {page.papers.length === 0 && <p className="quiet">{t("records.noPapers")}</p>}
            {page.papers.map((p) => (
              <p className="line" key={p.entry ?? p.hash}>
                <a href={p.entry ? `/api/reports/${p.entry}.pdf` : `/api/files/${p.hash}`} target="_blank" rel="noreferrer" className="grow">
                  {p.entry ? t("report.code", { code: p.name }) : p.name}
                </a>
                <span className="small quiet">{p.number}</span>
              </p>
            ))}
          </section>
        </div>
      </div>
      {editing && <EditUndertaking id={page.id} known={u} onClose={() => setEditing(false)} />}
    </main>
  );
}
