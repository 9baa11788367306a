/** How promises were kept, week by week, and the orders of which one is at risk or was broken. */
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { PromiseWeek } from "../../types";
import { Empty } from "../../ui/Empty";
import { momentOf, shortDate } from "../../ui/format";
import { PageHead } from "../../ui/PageHead";
import { Answer, useQuestion } from "../queries";
import { Promises } from "./Promises";

const states = ["kept", "broken", "late", "risk", "open"] as const;
type Count = PromiseWeek["come"];

/** Of those that were kept or not by now, how many were, in per cent; nothing where there are none. */
function share(c: Count): string {
  const kept = c.kept ?? 0;
  const all = kept + (c.broken ?? 0) + (c.late ?? 0);
  return all === 0 ? "" : `${Math.round((100 * kept) / all)} %`;
}

export default function PromiseFigures() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <PageHead title={t("promises.title")} hint={t("promises.hint")} />
      <Answer query={useQuestion("/api/office/promises", {})}>
        {(f) => (
          <>
            <Weeks weeks={f.weeks} of="come" />
            <Weeks weeks={f.weeks} of="done" />
            {f.cut && <p className="small quiet">{t("promises.cut")}</p>}
            <section className="sec" aria-label={t("promises.wrong")}>
              <h2>{t("promises.wrong")}</h2>
              {f.wrong.length === 0 && <Empty>{t("promises.allKept")}</Empty>}
              {f.wrong.map((l) => (
                <div className="line" key={l.order.id}>
                  <span className="grow">
                    <Link to={`/office/orders/${l.order.id}`}>{l.order.number}</Link> <span className="strong">{l.order.problem}</span>
                    <span className="small quiet block">
                      {l.order.site} · {l.order.customer}
                    </span>
                  </span>
                  <div>
                    <Promises come={l.come} promiseTo={l.order.promise} done={l.done} doneBy={l.order.doneBy} />
                  </div>
                </div>
              ))}
              {f.more ? <p className="small quiet">{t("promises.more", { count: f.more })}</p> : null}
            </section>
          </>
        )}
      </Answer>
    </main>
  );
}

function Weeks({ weeks, of }: { weeks: PromiseWeek[]; of: "come" | "done" }) {
  const { t } = useTranslation();
  const some = weeks.filter((w) => Object.values(w[of]).some((n) => n > 0));
  if (some.length === 0) return null;
  return (
    <section className="sec" aria-label={t(`promises.${of}`)}>
      <h2>{t(`promises.${of}`)}</h2>
      <table className="table">
        <thead>
          <tr>
            <th>{t("promises.week")}</th>
            {states.map((s) => (
              <th key={s}>{t(`promises.state.${s}`)}</th>
            ))}
            <th>{t("promises.share")}</th>
          </tr>
        </thead>
        <tbody>
          {some.map((w) => (
            <tr key={w.monday}>
              <td>{shortDate(momentOf(w.monday, "12:00"))}</td>
              {states.map((s) => (
                <td key={s}>{w[of][s] ?? ""}</td>
              ))}
              <td className="strong">{share(w[of])}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
