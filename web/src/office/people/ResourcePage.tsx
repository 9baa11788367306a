import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { Empty } from "../../ui/Empty";
import { PageHead } from "../../ui/PageHead";
import { Answer, useQuestion } from "../queries";
import css from "./People.module.css";
import { RecordTimes } from "./RecordTimes";

/** When a thing that is booked beside people can be had. */
export default function ResourcePage() {
  const { t } = useTranslation();
  const { id = "" } = useParams();
  const query = useQuestion("/api/office/planning", {});
  return (
    <Answer query={query}>
      {(all) => {
        const thing = all.resources.find((r) => r.id === id)?.resource;
        if (!thing) return <Empty>{t("office.notHere")}</Empty>;
        return (
          <main className="review" key={id}>
            <p className="small quiet">
              <Link to="/office/people">{t("planned.title")}</Link>
            </p>
            <PageHead title={thing.name} hint={thing.kind} />
            {thing.note && <p className={css.note}>{thing.note}</p>}
            <RecordTimes
              subject={{ type: "resource", id }}
              title={t("planned.had")}
              always={t("planned.alwaysHad")}
              offTitle={t("planned.out")}
              weeks={["hours", thing.hours]}
              off={["out", thing.out]}
            />
          </main>
        );
      }}
    </Answer>
  );
}
