import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useHas } from "../../session/session";
import type { PlannedPerson, Settings } from "../../types";
import { absenceText, absenceWhy } from "../../ui/absence";
import { isoDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { weekMinutes, weekOn } from "../../ui/hours";
import { PageHead } from "../../ui/PageHead";
import { Answer, useQuestion, useSettings } from "../queries";
import { SaveRules } from "../rules/SaveRules";
import { useRules } from "../rules/useRules";
import { Resources } from "./Resources";
import { Rotas } from "./Rotas";
import { WeekFields } from "./WeekFields";

/** Who can be planned when: hours, teams, who is off, and the things that are booked. */
export default function People() {
  const { t } = useTranslation();
  const query = useQuestion("/api/office/planning", {});
  const settings = useSettings().data;
  return (
    <main className="review">
      <PageHead title={t("planned.title")} hint={t("planned.hint")} />
      <Answer query={query}>
        {(all) => (
          <>
            <table className="table">
              <thead>
                <tr>
                  <th>{t("planned.who")}</th>
                  <th>{t("planned.team")}</th>
                  <th>{t("planned.hours")}</th>
                  <th>{t("planned.off")}</th>
                </tr>
              </thead>
              <tbody>
                {all.people.map((p) => (
                  <Row key={p.id} person={p} settings={settings} />
                ))}
              </tbody>
            </table>
            {settings && <Usual settings={settings} />}
            {settings && <Rotas settings={settings} people={all.people} />}
            <Resources list={all.resources} />
          </>
        )}
      </Answer>
    </main>
  );
}

function Row({ person: p, settings }: { person: PlannedPerson; settings?: Settings }) {
  const { t } = useTranslation();
  const today = isoDate(Date.now());
  const own = weekOn(p.person.hours, today);
  const week = own ?? weekOn(settings?.planning.hours, today);
  const asked = p.absences.filter((a) => a.state === "asked" && !a.struck && a.to >= today).length;
  const next = p.absences.filter((a) => a.state === "granted" && !a.struck && a.to >= today).sort((a, b) => a.from.localeCompare(b.from))[0];
  return (
    <tr>
      <td>
        <Link className="strong" to={`/office/people/${p.id}`}>
          {p.person.name}
        </Link>
      </td>
      <td>{settings?.planning.teams?.find((x) => x.id === p.person.team)?.text ?? <span className="quiet">–</span>}</td>
      <td>
        {week ? t("planned.perWeek", { hours: (weekMinutes(week) / 60).toLocaleString("en-GB", { maximumFractionDigits: 1 }) }) : t("planned.always")}
        {!own && week && <span className="small quiet"> {t("planned.asUsual")}</span>}
      </td>
      <td>
        {asked > 0 && <Tag kind="warn">{t("planned.asked", { count: asked })}</Tag>}
        {next && (
          <span className="small">
            {" "}
            {absenceText(next)} <span className="quiet">{absenceWhy(settings?.planning.absences ?? [], next)}</span>
          </span>
        )}
      </td>
    </tr>
  );
}

/** The hours of all who have none of their own. */
function Usual({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const rules = useRules("usual hours of all", settings);
  return (
    <section className="sec" aria-label={t("planned.usual")}>
      <h2>{t("planned.usual")}</h2>
      <p className="small quiet">{t("planned.usualHint")}</p>
      <WeekFields weeks={rules.now("planning", "hours") ?? []} may={may} from={isoDate(Date.now())} onChange={(to) => rules.set("planning", "hours", to)} />
      <SaveRules rules={rules} />
    </section>
  );
}
