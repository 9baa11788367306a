import { useTranslation } from "react-i18next";
import type { HoursOrder } from "../../types";
import { Empty } from "../../ui/Empty";
import { duration } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Answer, useHoursByOrder } from "../queries";

/** The time of a range by work order, those with something to look at first. */
export function ByOrder({ from, to, incomplete }: { from: string; to: string; incomplete: boolean }) {
  return <Answer query={useHoursByOrder(from, to)}>{(all) => <Orders orders={all.filter((o) => incomplete || !o.open)} />}</Answer>;
}

function Orders({ orders }: { orders: HoursOrder[] }) {
  const { t } = useTranslation();
  if (orders.length === 0) return <Empty>{t("hours.none")}</Empty>;
  return (
    <table className="table">
      <thead>
        <tr>
          <th>{t("hours.order")}</th>
          <th>{t("clock.work")}</th>
          <th>{t("clock.travel")}</th>
          <th>{t("clock.wait")}</th>
          <th>{t("hours.who")}</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {orders.map((o) => (
          <tr key={o.id}>
            <td>
              <b>{o.site}</b>
              <span className="small quiet block">
                {o.number} · {o.problem}
              </span>
            </td>
            <td className="nowrap">{duration(o.hours.work)}</td>
            <td className="nowrap">{duration(o.hours.travel)}</td>
            <td className="nowrap">{duration(o.hours.wait)}</td>
            <td>{o.people.map((p) => `${p.person} ${duration(p.hours.work + p.hours.travel + p.hours.wait)}`).join(", ")}</td>
            <td>
              {o.open && <Tag kind="warn">{t("hours.notOver")}</Tag>}
              {o.exceptions > 0 && <Tag kind="bad">{t("hours.look", { count: o.exceptions })}</Tag>}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
