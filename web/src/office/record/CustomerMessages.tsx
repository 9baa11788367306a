import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { dayOrTime } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import type { Word } from "../../words/i18n";
import { Answer, useContacts } from "../queries";

/** What a customer was told and sent, over all work. */
export function CustomerMessages({ customer }: { customer: string }) {
  const { t } = useTranslation();
  const query = useContacts(customer);
  return (
    <section className="sec" aria-label={t("contacts.title")}>
      <h2>{t("contacts.title")}</h2>
      <Answer query={query}>
        {(lines) =>
          lines.length === 0 ? (
            <p className="quiet">{t("contacts.none")}</p>
          ) : (
            lines.map((l) => (
              <p className="line" key={l.what.entry}>
                <span className="grow">
                  {l.what.text} {l.what.report && <Tag kind="good">{t("contacts.report")}</Tag>}
                  <span className="tiny quiet block">
                    {t("tell.to")} {l.what.to} · {l.by} · {dayOrTime(l.what.at)} · <Link to={`/office/visits/${l.visit}`}>{l.number}</Link> {l.site}
                  </span>
                </span>
                <Tag kind={l.state === "sent" ? "good" : "warn"}>{t(`message.${l.state || "waiting"}` as Word)}</Tag>
              </p>
            ))
          )
        }
      </Answer>
    </section>
  );
}
