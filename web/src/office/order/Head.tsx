import { Fragment, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { rightTo, useMay } from "../../session/session";
import type { OrderPage } from "../../types";
import { FoundBy } from "../../ui/FoundBy";
import { longDate, shortDate, time } from "../../ui/format";
import { Reported } from "../../ui/Reported";
import { pathText } from "../../ui/troubles";
import { FlagLine } from "../Look";
import { useSettings } from "../queries";
import { dueWindow } from "../upkeep/rule";
import { EditOrder } from "./EditOrder";
import css from "./Order.module.css";
import { Promises } from "./Promises";

/** What the order is: for whom, where, on what, by when, and what stands out. */
export function Head({ page }: { page: OrderPage }) {
  const { t } = useTranslation();
  const { order, customer, site, asset, names } = page;
  const [editing, setEditing] = useState(false);
  const may = useMay(rightTo("record.amended", "workorder"));
  const settings = useSettings().data;
  const kind = settings?.orders.works?.find((w) => w.id === order.kind)?.text;
  const tree = settings?.troubles.tree ?? [];
  const held = page.state === "on_hold" ? order.acts?.at(-1) : undefined;
  return (
    <header className={css.head}>
      <div>
        <p className="small quiet">
          {[
            t("visit.order", { number: order.number }),
            kind,
            t("orderPage.opened", { time: `${longDate(order.openedAt)} ${time(order.openedAt)}`, name: names[order.openedBy] ?? order.openedBy }),
            page.follows && t("orderPage.follows"),
          ]
            .filter(Boolean)
            .join(" · ")}{" "}
          {page.follows && <Link to={`/office/orders/${page.follows.id}`}>{page.follows.name}</Link>}
          {page.undertaking && (
            <>
              {" "}
              · {t("undertaking.partOf")} <Link to={`/office/undertakings/${page.undertaking.id}`}>{page.undertaking.name}</Link>
            </>
          )}
        </p>
        <h1>{order.problem}</h1>
        <p>
          <Link to={`/office/records/customer/${order.customer}`}>{customer.name}</Link> · <Link to={`/office/records/site/${order.site}`}>{site.name}</Link>
          {asset && (
            <>
              {" "}
              ·{" "}
              <Link to={`/office/records/asset/${order.asset}`}>
                {asset.name} {asset.serial}
              </Link>
            </>
          )}
          {order.theirs && ` · ${t("orderPage.theirs", { number: order.theirs })}`}
        </p>
        {page.plans.length > 0 && (
          <p className="small">
            {t("upkeep.byPlan")}{" "}
            {page.plans.map((x, i) => (
              <Fragment key={x.id}>
                {i > 0 && ", "}
                <Link to={`/office/upkeep/${x.id}`}>{x.name}</Link>
              </Fragment>
            ))}
            {order.due && ` · ${t("board.due", { window: dueWindow(order.due) })}`}
          </p>
        )}
        {order.trouble && (
          <p className="small">
            <b>{t("trouble.trouble")}</b> {pathText(tree, order.trouble)}
          </p>
        )}
        {order.found && (
          <p className="small quiet">
            <FoundBy found={order.found} />
          </p>
        )}
        {[customer.note, site.note, asset?.note].filter(Boolean).map((note) => (
          <p className={css.instruction} key={note}>
            <b>{t("visit.note")}</b> {note}
          </p>
        ))}
        {order.signal && <Reported {...order.signal} />}
        {order.instruction && (
          <p className={css.instruction}>
            <b>{t("orderPage.instruction")}</b> {order.instruction}
          </p>
        )}
        {order.billText && (
          <p className="small">
            <b>{t("orderPage.billText")}</b> {order.billText}
          </p>
        )}
        {(order.people ?? []).map((p) => (
          <p className="small" key={p.name + p.phone}>
            {t("orderPage.see")} <b>{p.name}</b> {[p.role, p.phone, p.email].filter(Boolean).join(" · ")}
          </p>
        ))}
      </div>
      <div className={css.state}>
        <p className="strong">{t(`orderState.${page.state}`)}</p>
        {held?.until && (
          <p className="small">
            {t("orderPage.until", { day: shortDate(`${held.until}T12:00:00Z`) })}: {held.reason}
          </p>
        )}
        <p className="small">
          {t(`priority.${order.priority}`)}
          {order.urgency && ` · ${t("orderPage.urgency", { urgency: t(`priority.${order.urgency}`).toLowerCase() })}`}
        </p>
        <Promises come={page.come} promiseTo={order.promiseTo} done={page.done} doneBy={order.doneBy} />
        {order.responsible && <p className="small quiet">{t("orderPage.responsible", { name: names[order.responsible] ?? order.responsible })}</p>}
        {may && (
          <button type="button" className="link" onClick={() => setEditing(true)}>
            {t("orderPage.edit")}
          </button>
        )}
      </div>
      {page.flags.length > 0 && (
        <div className={css.flags}>
          {page.flags.map((f) => (
            <FlagLine key={f.code + f.entry} flag={{ ...f, name: names[f.person] ?? f.person }} here />
          ))}
        </div>
      )}
      {editing && <EditOrder page={page} onClose={() => setEditing(false)} />}
    </header>
  );
}
