import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { May } from "../../session/May";
import type { AheadLine, AheadList } from "../../types";
import { decimal } from "../../ui/decimal";
import { Empty } from "../../ui/Empty";
import { isoDate, longDate, momentOf, quantity } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useQuestion } from "../commands";
import { Answer, Failure, useCommands } from "../queries";
import { purchasesOf } from "./buy";

/** What the parts planned for work to come will be short of, and by when they must be ordered. */
export function Ahead() {
  const { t } = useTranslation();
  return (
    <section>
      <h2>{t("ahead.title")}</h2>
      <p className="small quiet">{t("ahead.hint")}</p>
      <Answer query={useQuestion("/api/office/stores/ahead", {})}>
        {(list) => (list.lines.length === 0 ? <Empty>{t("ahead.none")}</Empty> : <Shown list={list} />)}
      </Answer>
    </section>
  );
}

const day = (iso: string) => longDate(momentOf(iso, "12:00"));

function Shown({ list }: { list: AheadList }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [left, setLeft] = useState<string[]>([]);
  const short = list.lines.filter((l) => decimal(l.short).gt(0));
  const chosen = short.filter((l) => !left.includes(l.part));
  const order = () =>
    commands.mutate(
      purchasesOf(
        chosen.map((l) => ({ part: l.part, quantity: l.short, cost: l.cost, supplier: l.supplier || "other" })),
        list.store.id,
        commands.idOf,
      ),
    );
  return (
    <>
      <table className="table">
        <thead>
          <tr>
            <th>{t("picks.part")}</th>
            <th className="num">{t("ahead.short")}</th>
            <th>{t("ahead.day")}</th>
            <th>{t("ahead.orderBy")}</th>
            <th>{t("ahead.for")}</th>
          </tr>
        </thead>
        <tbody>
          {list.lines.map((l) => (
            <tr key={l.part}>
              <td>
                <label>
                  <input
                    type="checkbox"
                    disabled={!short.includes(l)}
                    checked={chosen.includes(l)}
                    onChange={() => setLeft(left.includes(l.part) ? left.filter((p) => p !== l.part) : [...left, l.part])}
                  />{" "}
                  {l.name} <span className="small quiet">{l.number}</span>
                </label>
              </td>
              <td className="num">
                {decimal(l.short).gt(0) && quantity(l.short, l.unit)}
                {decimal(l.late).gt(0) && <Tag kind="warn">{t("ahead.late", { quantity: quantity(l.late, l.unit) })}</Tag>}
              </td>
              <td>{l.day ? day(l.day) : t("ahead.noDay")}</td>
              <td>
                <OrderBy line={l} />
              </td>
              <td>
                {l.for.map((o) => (
                  <span key={o.id}>
                    <Link to={`/office/orders/${o.id}`}>{o.name}</Link>{" "}
                  </span>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="stores-bar">
        <May right="purchase.made">
          <Button variant="contained" disabled={chosen.length === 0 || commands.isPending} onClick={order}>
            {t("fill.order", { count: chosen.length })}
          </Button>
        </May>
        <Failure error={commands.error} />
      </p>
    </>
  );
}

function OrderBy({ line: l }: { line: AheadLine }) {
  const { t } = useTranslation();
  if (!l.orderBy || decimal(l.short).lte(0)) return null;
  return l.orderBy < isoDate(Date.now()) ? <Tag kind="bad">{t("ahead.atOnce")}</Tag> : <span>{day(l.orderBy)}</span>;
}
