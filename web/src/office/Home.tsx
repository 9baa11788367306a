import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { WaitingFor, WaitingGroup, WaitingLine } from "../types";
import { Empty } from "../ui/Empty";
import { shortDate, time, timeOrDay } from "../ui/format";
import { Mark } from "../ui/Glyph";
import { PageHead } from "../ui/PageHead";
import { say } from "../words/i18n";
import { useQuestion } from "./commands";
import css from "./Home.module.css";
import { Answer } from "./queries";

/** Where all of a group is. */
const whole: Record<WaitingFor, string> = {
  place: "/office",
  left: "/office",
  overdue: "/office/upkeep",
  offers: "/office",
  review: "/office/review",
  messages: "/office/review/messages",
  unsigned: "/office/review/unsigned",
  attention: "/office/review/attention",
  signals: "/office/setup/signals",
  decide: "/office/review/attention",
  requests: "/office/stores",
  purchases: "/office/stores/orders",
  handovers: "/office/stores/moving",
  absences: "/office/people",
};

/** Where one of its lines is. */
function wayTo(group: WaitingFor, line: WaitingLine): string {
  const { type, id } = line.ref;
  if (group === "review") return `/office/review/${id}`;
  if (type === "visit") return `/office/visits/${id}`;
  if (type === "workorder") return `/office/orders/${id}`;
  if (type === "absences") return `/office/people/${id}`;
  if (type === "asset") return `/office/records/asset/${id}`;
  if (type === "talk") return `/office/review/messages/${id}`;
  return whole[group];
}

/** What waits for whoever is signed in: by what is to be done, the worst and oldest first, each a jump. */
export function Home() {
  const { t } = useTranslation();
  const query = useQuestion("/api/office/home", {});
  return (
    <main className={css.page}>
      <PageHead title={t("home.title")} />
      <Answer query={query}>
        {(groups) =>
          groups.length === 0 ? (
            <Empty>{t("home.nothing")}</Empty>
          ) : (
            <div className={css.groups}>
              {groups.map((g) => (
                <Group key={g.name} group={g} />
              ))}
            </div>
          )
        }
      </Answer>
    </main>
  );
}

function Group({ group: g }: { group: WaitingGroup }) {
  const { t } = useTranslation();
  return (
    <section className={`sec ${css.group}`} aria-label={t(`home.${g.name}`)}>
      <h2>
        {t(`home.${g.name}`)} <b className={css.count}>{g.least ? t("home.least", { count: g.count }) : g.count}</b>
      </h2>
      {g.lines.map((l, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two may wait about the same
        <Link className={`line ${css.line}`} key={`${l.ref.type}/${l.ref.id}/${i}`} to={wayTo(g.name, l)}>
          <span className={css.mark}>{l.bad && <Mark kind="bad" />}</span>
          <span className="grow">
            <span className={`strong ${css.title}`}>{l.title}</span>
            <span className={`small quiet block ${css.title}`}>{l.why ? say(l.why) : l.detail}</span>
          </span>
          {l.at && <span className="small nowrap">{l.due ? t("home.by", { time: `${shortDate(l.at)} ${time(l.at)}` }) : timeOrDay(l.at)}</span>}
        </Link>
      ))}
      {g.count > g.lines.length && (
        <Link className={css.more} to={whole[g.name]}>
          {g.least ? t("home.allOfThem") : t("home.all", { count: g.count })}
        </Link>
      )}
    </section>
  );
}
