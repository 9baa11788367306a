import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Ref } from "../../types";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { say } from "../../words/i18n";
import { useNotices, useRecord, useSettings } from "../device";

/** Where to go from something to look at: the visit it is about, and the office's phone. */
export function Ways({ subject }: { subject: Ref }) {
  const { t } = useTranslation();
  const phone = useSettings()?.company.phone;
  return (
    <span className="links small">
      {subject.type === "visit" && <Link to={`/field/visit/${subject.id}`}>{t("outbox.open")}</Link>}
      {phone && <a href={`tel:${phone.replaceAll(" ", "")}`}>{t("outbox.call")}</a>}
    </span>
  );
}

/** What this person's entries raised at the office: what happened, and what to do about it. */
export function Look() {
  const { t } = useTranslation();
  const notices = useNotices();
  const record = useRecord();
  if (notices.length === 0) return null;
  return (
    <section className="sec" aria-label={t("outbox.look")}>
      <h2>{t("outbox.look")}</h2>
      {notices.map((n) => (
        <div className="line look" key={n.subject.id + n.code}>
          <span className="grow">
            <Tag kind={n.code === "request.in" ? "good" : "warn"}>{say(n)}</Tag>
            <span className="small quiet block">
              {[n.about, timeOrDay(n.at), n.count > 1 ? t("look.times", { count: n.count }) : ""].filter(Boolean).join(" · ")}
            </span>
            <Ways subject={n.subject} />
          </span>
          <Button onClick={() => record("flag.seen", n.subject, { code: n.code })}>{t("outbox.seen")}</Button>
        </div>
      ))}
    </section>
  );
}
