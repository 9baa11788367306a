import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { bytes, timeOrDay } from "../ui/format";
import { Answer, useSentMessages } from "./queries";

/** Where what a message is about is to be read, by its type. */
const pages: Record<string, string> = { visit: "visits", person: "people" };

/** What the message gateway was given. In this program it is a simulated one, which sends nothing on. */
export function SentMessages() {
  const { t } = useTranslation();
  const sent = useSentMessages();
  return (
    <section className="sec" aria-label={t("gateway.title")}>
      <h2>{t("gateway.title")}</h2>
      <p className="quiet">{t("gateway.hint")}</p>
      <Answer query={sent}>
        {(all) => (
          <ul className="gateway">
            {all.length === 0 && <li className="quiet">{t("gateway.none")}</li>}
            {all.map((m) => (
              <li key={m.entry} className="line">
                <span className="grow">
                  {m.text}
                  <span className="small quiet block">
                    {t("tell.to")} {m.to} · {timeOrDay(m.at)}
                    {m.report && (
                      <>
                        {" · "}
                        <a href={`/api/reports/${m.report}.pdf`} target="_blank" rel="noreferrer">
                          {t("contacts.report")}
                        </a>{" "}
                        ({bytes(m.bytes ?? 0)})
                      </>
                    )}
                  </span>
                </span>
                <Link to={`/office/${pages[m.about.type] ?? "orders"}/${m.about.id}`}>{t("look.open")}</Link>
              </li>
            ))}
          </ul>
        )}
      </Answer>
    </section>
  );
}
