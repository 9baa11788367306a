import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { OrderLine } from "../types";
import { quantity } from "../ui/format";

/** What whoever was there before said that this visit needs. */
export function Before({ order: o }: { order: Partial<OrderLine> }) {
  const { t } = useTranslation();
  if (!o.back) return null;
  return (
    <section className="plan-before" aria-label={t("board.needs")}>
      <h2>{t("board.needs")}</h2>
      <p>{o.reason || t(`outcome.${o.outcome || "return_needed"}`)}</p>
      {o.note && <p className="pre">{o.note}</p>}
      {o.needs?.map((n) => (
        <p key={n.part}>{`${quantity(n.quantity, n.unit)} × ${n.name}`}</p>
      ))}
      {o.visit && (
        <Link className="small" to={`/office/visits/${o.visit}`}>
          {t("look.open")}
        </Link>
      )}
    </section>
  );
}
