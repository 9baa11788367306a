import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { rightTo, useMay } from "../../session/session";
import type { UpkeepPage } from "../../types";
import { dayText, duration } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Answer, useQuestion } from "../queries";
import { DueLines } from "./DueLines";
import { EditPlan } from "./EditPlan";
import { Obstacles } from "./Obstacles";
import { ruleWords } from "./rule";

/** A maintenance plan: what is done, for what, and what falls due by it. */
export default function PlanPage() {
  const { id = "" } = useParams();
  return <Answer query={useQuestion("/api/office/upkeep/:id", { id })}>{(page) => <Shown key={id} page={page} />}</Answer>;
}

function Shown({ page }: { page: UpkeepPage }) {
  const { t } = useTranslation();
  const may = useMay(rightTo("record.amended", "upkeep"));
  const [editing, setEditing] = useState(false);
  const { plan: p, coming, past, targets } = page;
  return (
    <main className="visit-page">
      <header className="visit-page-head">
        <div>
          <p className="small quiet">
            <Link to="/office/upkeep?view=plans">{t("upkeep.byPlan")}</Link>
            {` · ${page.customer || t("upkeep.several")}`}
            {page.agreement && ` · ${page.agreement.name}`}
          </p>
          <h1>{p.name}</h1>
          <p className="small">
            {[ruleWords(p, page.counter, page.unit), t("agreement.since", { day: dayText(p.begin) }), p.end && t("agreement.until", { day: dayText(p.end) })]
              .filter(Boolean)
              .join(" · ")}
          </p>
        </div>
        {may && (
          <Button variant="outlined" onClick={() => setEditing(true)}>
            {t("upkeep.change")}
          </Button>
        )}
      </header>
      <div className="visit-columns">
        <div>
          <Obstacles list={page.obstacles} />
          <section className="sec" aria-label={t("upkeep.coming")}>
            <h2>{t("upkeep.coming")}</h2>
            {coming.length === 0 ? <p className="quiet">{t("upkeep.noDue")}</p> : <DueLines lines={coming} today={page.today} ofPlan />}
            {page.more > 0 && <p className="small quiet">{t("upkeep.more", { count: page.more })}</p>}
          </section>
          <section className="sec" aria-label={t("upkeep.past")}>
            <h2>{t("upkeep.past")}</h2>
            {past.length === 0 ? <p className="quiet">{t("upkeep.nonePast")}</p> : <DueLines lines={past} today={page.today} ofPlan />}
            {page.earlier > 0 && <p className="small quiet">{t("upkeep.more", { count: page.earlier })}</p>}
          </section>
        </div>
        <div>
          <section className="sec" aria-label={t("upkeep.form.work")}>
            <h2>{t("upkeep.form.work")}</h2>
            <p className="pre">{p.problem}</p>
            {(p.tasks ?? []).length > 0 && (
              <ol>
                {(p.tasks ?? []).map((name) => (
                  <li key={name}>{name}</li>
                ))}
              </ol>
            )}
            <p className="small quiet">{duration(p.minutes * 60)}</p>
          </section>
          <section className="sec" aria-label={t("upkeep.for")}>
            <h2>{t("upkeep.for")}</h2>
            {targets.map((x) => (
              <p className="line" key={x.id}>
                <span className="grow">
                  {x.asset ? <Link to={`/office/records/asset/${x.asset}`}>{x.name}</Link> : t("upkeep.wholeSite")}
                  <span className="small quiet block">
                    <Link to={`/office/records/site/${x.site}`}>{x.siteName}</Link>
                  </span>
                </span>
                {x.gone && <Tag kind="warn">{t("upkeep.gone")}</Tag>}
              </p>
            ))}
          </section>
          <Changed page={page} />
        </div>
      </div>
      {editing && <EditPlan page={page} onClose={() => setEditing(false)} />}
    </main>
  );
}

/** What somebody moved or skipped, the latest first. */
function Changed({ page }: { page: UpkeepPage }) {
  const { t } = useTranslation();
  if (page.changes.length === 0) return null;
  return (
    <section className="sec" aria-label={t("upkeep.changes")}>
      <h2>{t("upkeep.changes")}</h2>
      {page.changes.map((c) => {
        const due = dayText(c.due);
        const what = !c.to
          ? t("upkeep.changeSkipped", { due })
          : c.to === c.due
            ? t("upkeep.changeBack", { due })
            : t("upkeep.changeMoved", { due, to: dayText(c.to) });
        return (
          <p className="line" key={c.entry}>
            <span className="grow">
              {what}
              <span className="small quiet block">{[c.name, c.reason, c.by].filter(Boolean).join(" · ")}</span>
            </span>
          </p>
        );
      })}
    </section>
  );
}
