import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { plain, words } from "../../catalogue/wordIndex";
import { useLive } from "../../device/live";
import { timeOrDay } from "../../ui/format";
import { useDevice } from "../device";
import { KnowHowText } from "../visit/KnowHowText";
import { most } from "./directoryIndex";
import { useDirectory } from "./useDirectory";

/** What the company has learned, and customers, sites and machines of the directory, that match what is typed. others: how much else was found. */
export function FindRecords({ text, others }: { text: string; others: number }) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const directory = useDirectory();
  const wanted = words(text);
  const learned = useLive(
    db,
    async (db) => {
      const all = await db.all("knowhow");
      const found = all.filter(({ body: k }) => wanted.every((w) => plain(`${k.title} ${k.text}`).includes(w)));
      return found.filter(({ body: k }) => !k.gone && (!k.sent || k.author === me.id));
    },
    [text],
  );
  if (wanted.length === 0) return null;
  const found = directory?.index.find(text) ?? [];
  const known = learned ?? [];
  if (found.length + known.length === 0) return others === 0 ? <p className="empty">{t("find.none")}</p> : null;
  return (
    <>
      {known.length > 0 && <p className="small quiet">{t("knowhow.title")}</p>}
      {known.slice(0, most).map((k) => (
        <KnowHowText key={k.id} knowHow={k.body} />
      ))}
      {found.length > 0 && <p className="small quiet">{t("customer.told", { at: timeOrDay(directory?.at ?? "") })}</p>}
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
