/** What machines report by themselves: who may send it, what it is judged by, and which machines were heard of. */
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { SignalHeard } from "../../types";
import { Empty } from "../../ui/Empty";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { Answer, useQuestion } from "../queries";
import { KeepDays } from "./KeepDays";
import { RuleList } from "./RuleList";
import { Sources } from "./Sources";

export default function SignalsScreen() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <PageHead title={t("signals.title")} hint={t("signals.hint")} />
      <Answer query={useQuestion("/api/office/signals", {}, { refetchInterval: 30_000 })}>
        {(page) => (
          <>
            <Sources sources={page.sources} />
            <RuleList kinds={page.kinds} />
            <Heard heard={page.heard} more={page.more ?? 0} />
            <KeepDays />
          </>
        )}
      </Answer>
    </main>
  );
}

function Heard({ heard, more }: { heard: SignalHeard[]; more: number }) {
  const { t } = useTranslation();
  return (
    <section className="sec" aria-label={t("signals.heard")}>
      <h2>{t("signals.heard")}</h2>
      {heard.length === 0 ? (
        <Empty>{t("signals.nobody")}</Empty>
      ) : (
        <ul className="plain">
          {heard.map((m) => (
            <li key={m.id} className="line">
              <span className="grow">
                <Link to={`/office/records/asset/${m.id}`}>{m.name || m.id}</Link> <span className="small quiet">{m.site}</span>
              </span>
              {m.open ? <Tag kind="bad">{t("signals.wrong", { count: m.open })}</Tag> : null}
              <span className="small quiet end">{timeOrDay(m.at)}</span>
            </li>
          ))}
        </ul>
      )}
      {more > 0 && <p className="small quiet">{t("signals.moreHeard", { count: more })}</p>}
    </section>
  );
}
