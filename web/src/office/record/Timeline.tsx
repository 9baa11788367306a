import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Ref } from "../../types";
import { dayOrTime } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import type { Word } from "../../words/i18n";
import { Answer, useQuestion } from "../queries";

/** What was said about all work of a customer, at a site or on a machine: among ourselves, and to them. */
export function Timeline({ of }: { of: Ref }) {
  const { t } = useTranslation();
  const query = useQuestion("/api/office/timeline/:type/:id", { type: of.type, id: of.id });
  return (
    <section className="sec" aria-label={t("timeline.title")}>
      <h2>{t("timeline.title")}</h2>
      <Answer query={query}>
        {({ lines, more }) => (
          <>
            {lines.length === 0 && <p className="quiet">{t("timeline.none")}</p>}
            {lines.map((l) => (
              <p className="line" key={l.entry}>
                <span className="grow">
                  {l.text} {l.report && <Tag kind="good">{t("contacts.report")}</Tag>}
                  <span className="tiny quiet block">
                    {l.to ? `${l.by} → ${l.to}` : l.by} · {dayOrTime(l.at)} · <Link to={`/office/orders/${l.order}`}>{l.number}</Link>{" "}
                    {of.type === "customer" && l.site}
                  </span>
                </span>
                {l.to && <Tag kind={l.state === "sent" ? "good" : "warn"}>{t(`message.${l.state || "waiting"}` as Word)}</Tag>}
              </p>
            ))}
            {more > 0 && <p className="small quiet">{t("timeline.more", { count: more })}</p>}
          </>
        )}
      </Answer>
    </section>
  );
}
