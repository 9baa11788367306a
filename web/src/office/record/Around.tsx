import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Branch, RecordPage } from "../../types";
import { Covered } from "./Covered";
import css from "./Record.module.css";

/** What hangs on a record: a customer's sites, the machines at a site, each with its components, and the components of those. */
export function Around({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  if (page.around.length === 0) return null;
  const { type, id } = page.ref;
  const ids = new Set(page.around.map((a) => a.id));
  const top = page.around.filter((a) => !a.parent || a.parent === id || !ids.has(a.parent));
  return (
    <section className="sec" aria-label={t(type === "customer" ? "records.sites" : "records.assets")}>
      <h2>{t(type === "asset" ? "records.components" : type === "customer" ? "records.sites" : "records.assets")}</h2>
      <Branches of={top} all={page.around} type={type === "customer" ? "site" : "asset"} />
    </section>
  );
}

function Branches({ of, all, type }: { of: Branch[]; all: Branch[]; type: "site" | "asset" }) {
  return (
    <ul className={css.tree}>
      {of.map((a) => {
        const below = all.filter((x) => x.parent === a.id);
        return (
          <li key={a.id}>
            <span className="line">
              <Link className="grow" to={`/office/records/${type}/${a.id}`}>
                {a.name}
              </Link>
              {a.warranty && <Covered until={a.warranty} />}
            </span>
            {below.length > 0 && <Branches of={below} all={all} type={type} />}
          </li>
        );
      })}
    </ul>
  );
}
