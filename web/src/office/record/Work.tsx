import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMay } from "../../session/session";
import type { OpenOrder, Ref } from "../../types";
import { shortDate, timeOrDay } from "../../ui/format";
import { Glyph } from "../../ui/Glyph";
import { Answer, useRecordWork } from "../queries";

/** How much of what was done is shown before somebody asks for more. */
const shown = 10;

/** The work for a customer, at a site or on a machine: who is to come, what is open, what was done. */
export function Work({ of }: { of: Ref }) {
  const { t } = useTranslation();
  const query = useRecordWork(of.type, of.id);
  const mayOpen = useMay("work.opened");
  const [all, setAll] = useState(false);
  return (
    <Answer query={query}>
      {(work) => (
        <>
          <section className="sec" aria-label={t("work.open")}>
            <h2>
              {t("work.open")}
              {mayOpen && (
                <Button size="small" component={Link} to={`/office/intake?${of.type}=${encodeURIComponent(of.id)}`}>
                  {t("bar.do.open")}
                </Button>
              )}
            </h2>
            {work.coming.map((v) => (
              <p className="line" key={v.id}>
                <span className="grow">
                  <Link to={`/office/orders/${v.order}`}>
                    {v.number} {v.problem}
                  </Link>
                  <span className="small quiet block">
                    <Glyph stage={v.stage} /> {timeOrDay(v.start)} {v.technician}
                  </span>
                </span>
                <Link className="small nowrap" to={`/office/visits/${v.id}`}>
                  {t(`stage.${v.stage}`)}
                </Link>
              </p>
            ))}
            <Orders orders={work.open.filter((o) => !work.coming.some((v) => v.order === o.id))} />
            {work.open.length === 0 && <p className="quiet">{t("work.noneOpen")}</p>}
          </section>
          <section className="sec" aria-label={t("work.past")}>
            <h2>{t("work.past")}</h2>
            {work.past.length === 0 && <p className="quiet">{t("work.nonePast")}</p>}
            <Orders orders={all ? work.past : work.past.slice(0, shown)} />
            {!all && work.past.length > shown && (
              <button type="button" className="link small" onClick={() => setAll(true)}>
                {t("work.all", { count: work.past.length })}
              </button>
            )}
            {(all || work.past.length <= shown) && work.more > 0 && <p className="small quiet">{t("work.more", { count: work.more })}</p>}
          </section>
        </>
      )}
    </Answer>
  );
}

function Orders({ orders }: { orders: OpenOrder[] }) {
  const { t } = useTranslation();
  return orders.map((o) => (
    <p className="line" key={o.id}>
      <span className="grow">
        <Link to={`/office/orders/${o.id}`}>
          {o.number} {o.problem}
        </Link>
      </span>
      <span className="small nowrap">
        {t(`orderState.${o.state}`)} <span className="quiet">{shortDate(o.opened)}</span>
      </span>
    </p>
  ));
}
