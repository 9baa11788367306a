import { useTranslation } from "react-i18next";
import type { VisitMessage } from "../../types";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import type { Word } from "../../words/i18n";

interface Props {
  messages?: VisitMessage[];
  names: Record<string, string>;
  states: Record<string, string>;
}

/** What the customer was told, and whether it went out. */
export function Messages({ messages = [], names, states }: Props) {
  const { t } = useTranslation();
  if (messages.length === 0) return null;
  return (
    <section className="sec" aria-label={t("visit.customer")}>
      <h2>{t("visit.customer")}</h2>
      {messages.map((m) => (
        <p className="line" key={m.entry}>
          <span className="grow">
            {m.text} {m.report && <Tag kind="good">{t("contacts.report")}</Tag>}
            <span className="tiny quiet block">
              {t("tell.to")} {m.to} · {names[m.person]} · {timeOrDay(m.at)}
            </span>
          </span>
          <Tag kind={states[m.entry] === "sent" ? "good" : "warn"}>{t(`message.${states[m.entry] ?? "waiting"}` as Word)}</Tag>
        </p>
      ))}
    </section>
  );
}
