import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { Empty } from "../../ui/Empty";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { Answer, useTalks } from "../queries";
import { Conversation } from "../visit/Conversation";

/** Conversations about work orders, those with something new first. */
export function Talks() {
  const { t } = useTranslation();
  const query = useTalks();
  return (
    <>
      <PageHead title={t("talk.list")} />
      <Answer query={query}>
        {(lines) =>
          lines.length === 0 ? (
            <Empty>{t("talk.nobody")}</Empty>
          ) : (
            <ul className="talks">
              {lines.map((l) => (
                <li key={l.order.id}>
                  <Link to={`/office/review/messages/${l.order.id}`} className="line">
                    <span className="grow">
                      <span className="strong">{l.order.site}</span>{" "}
                      <span className="small quiet">
                        {l.order.number} · {l.order.problem}
                      </span>
                      <span className="block">{l.last.text}</span>
                      <span className="tiny quiet block">
                        {l.by} · {timeOrDay(l.last.at)}
                      </span>
                    </span>
                    {l.unread > 0 && <Tag kind="warn">{t("talk.unread", { count: l.unread })}</Tag>}
                  </Link>
                </li>
              ))}
            </ul>
          )
        }
      </Answer>
    </>
  );
}

/** One conversation. */
export function TalkPage() {
  const { order = "" } = useParams();
  const { t } = useTranslation();
  const line = useTalks().data?.find((l) => l.order.id === order);
  return (
    <>
      <h1>
        {line?.order.site} <span className="small quiet">{line && `${line.order.number} · ${line.order.problem}`}</span>
      </h1>
      <Conversation order={order} />
      <Link className="link" to="/office/review/messages">
        {t("talk.list")}
      </Link>
    </>
  );
}
