import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { timeOrDay } from "../../ui/format";
import { most } from "./directoryIndex";
import { useDirectory } from "./useDirectory";

/** Customers, sites and machines of the directory that match what is typed. others: how much else was found. */
export function FindRecords({ text, others }: { text: string; others: number }) {
  const { t } = useTranslation();
  const directory = useDirectory();
  if (text.trim() === "") return null;
  const found = directory?.index.find(text) ?? [];
  if (found.length === 0) return others === 0 ? <p className="empty">{t("find.none")}</p> : null;
  return (
    <>
      <p className="small quiet">{t("customer.told", { at: timeOrDay(directory?.at ?? "") })}</p>
      <ul>
        {found.map((p) => (
          <li key={`${p.type} ${p.id}`}>
            <Link to={`/field/customer/${p.customer}${p.type === "customer" ? "" : `#site-${p.site}`}`} className="line find-line">
              <span className="grow">
                <span className="strong">{p.name}</span>
                <span className="small quiet block">{p.line}</span>
              </span>
              <span className="end small quiet">{t(`doc.${p.type}`)}</span>
            </Link>
          </li>
        ))}
      </ul>
      {found.length >= most && <p className="small quiet">{t("found.more", { count: most })}</p>}
    </>
  );
}
