import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import type { OrderHit } from "../types";
import { Empty } from "../ui/Empty";
import { PageHead } from "../ui/PageHead";
import { Export } from "./checks/Export";
import { Failure, useCustomers, useOrdersNumbered } from "./queries";

/** A work order that was found by its number. */
function NumberedOrder({ hit: { order: o, state } }: { hit: OrderHit }) {
  const { t } = useTranslation();
  return (
    <Link className="line" to={`/office/orders/${o.id}`}>
      <span className="grow">
        <span className="strong">{t("visit.order", { number: o.number })}</span> · {o.problem}
        <span className="small quiet block">
          {o.customer} · {o.site}
        </span>
      </span>
      <span className="small">{t(`orderState.${state}`)}</span>
    </Link>
  );
}

/** Finds customers, sites, machines and work orders by number. What was looked for stays in the address, so that going back finds it again. */
export function Records() {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const text = params.get("q") ?? "";
  const query = useCustomers(text);
  const found = query.data ?? [];
  const orders = useOrdersNumbered(text.trim()).data ?? [];
  return (
    <main className="review records">
      <PageHead title={t("records.title")} />
      <TextField
        label={t("records.search")}
        value={text}
        autoFocus
        onChange={(e) => setParams(e.target.value ? { q: e.target.value } : {}, { replace: true })}
      />
      {text.trim().length < 2 && <Empty>{t("records.hint")}</Empty>}
      <Failure error={query.error} />
      {orders.map((o) => (
        <NumberedOrder key={o.order.id} hit={o} />
      ))}
      {text.trim().length > 1 && query.isSuccess && found.length + orders.length === 0 && <Empty>{t("records.none")}</Empty>}
      {found.map((c) => (
        <section className="sec" key={c.id}>
          <h2>
            <Link to={`/office/records/customer/${c.id}`}>{c.customer.name}</Link>
          </h2>
          {c.sites.map((s) => (
            <div className="line" key={s.id}>
              <span className="grow">
                <Link to={`/office/records/site/${s.id}`}>{s.site.name}</Link> <span className="small quiet">{s.site.address}</span>
              </span>
              <span className="small records-assets">
                {s.assets.map((a) => (
                  <Link key={a.id} to={`/office/records/asset/${a.id}`}>
                    {a.name}
                  </Link>
                ))}
              </span>
            </div>
          ))}
        </section>
      ))}
      {text.trim().length < 2 && <Export />}
    </main>
  );
}
