import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { SubstancePage } from "../../types";
import { decimal } from "../../ui/decimal";
import { longDate, shortDate, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useSubstances } from "../queries";

/** A site's log of regulated substances, to read and to print. */
export function SubstanceLog({ site }: { site: string }) {
  const { t } = useTranslation();
  const page = useSubstances(site).data;
  if (!page || page.stands.length === 0) return null;
  return (
    <section className="sec printable" aria-label={t("substance.title")}>
      <h2>
        {t("substance.title")}{" "}
        <button type="button" className="link small unprinted" onClick={() => window.print()}>
          {t("substance.print")}
        </button>
      </h2>
      <p className="small quiet">
        {t("substance.asOf", { site: page.name, date: `${longDate(page.at)} ${new Date(page.at).getFullYear()}, ${time(page.at)}` })}
      </p>
      <Stands page={page} />
      <Moves page={page} />
    </section>
  );
}

function Stands({ page }: { page: SubstancePage }) {
  const { t } = useTranslation();
  return page.stands.map((s) => (
    <div key={s.id} className="substance-stand">
      <p className="line">
        <b className="grow">{s.name}</b>
        <span>
          {t("substance.onSite")}: <b>{s.onSite}</b> {s.unit}
        </span>
      </p>
      {s.machines.map((m) => (
        <p className="line small" key={m.asset}>
          <span className="grow">
            {page.names[m.asset] ?? m.asset}
            {decimal(m.charge).gt(0) && <span className="quiet"> · {t("substance.charge", { amount: m.charge, unit: s.unit })}</span>}
          </span>
          <span>{t("substance.lastYear", { amount: m.year, unit: s.unit })}</span>
          {m.loss !== undefined && s.allowed !== undefined && (
            <Tag kind={m.over ? "bad" : "good"}>{t("substance.loss", { loss: m.loss, allowed: s.allowed })}</Tag>
          )}
        </p>
      ))}
    </div>
  ));
}

function Moves({ page }: { page: SubstancePage }) {
  const { t } = useTranslation();
  const unitOf = (id: string) => page.stands.find((s) => s.id === id)?.name ?? id;
  return (
    <table className="table">
      <thead>
        <tr>
          <th>{t("measured.when")}</th>
          <th>{t("substance.which")}</th>
          <th>{t("substance.act")}</th>
          <th>{t("intake.asset")}</th>
          <th className="end">{t("substance.quantity")}</th>
          <th>{t("measured.who")}</th>
        </tr>
      </thead>
      <tbody>
        {page.moves.map((m) => (
          <tr key={m.entry} className={m.struck ? "struck" : undefined}>
            <td className="nowrap">
              <Link to={`/office/visits/${m.visit}`}>
                {shortDate(m.at)} {new Date(m.at).getFullYear()}
              </Link>
            </td>
            <td>{unitOf(m.substance)}</td>
            <td>
              {t(`act.${m.act}`)}
              {m.away && <span className="quiet"> · {t("substance.away")}</span>}
            </td>
            <td>{m.asset && (page.names[m.asset] ?? m.asset)}</td>
            <td className="end nowrap">
              {m.amount} {m.unit}
            </td>
            <td>{page.names[m.person] ?? m.person}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
