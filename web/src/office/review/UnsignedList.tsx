import { useTranslation } from "react-i18next";
import { Empty } from "../../ui/Empty";
import { timeOrDay } from "../../ui/format";
import { PageHead } from "../../ui/PageHead";
import { Answer, useUnsigned } from "../queries";
import { VisitCell } from "./VisitCell";

/** Finished visits that somebody has to sign for, so that none is forgotten. */
export function UnsignedList() {
  const { t } = useTranslation();
  const query = useUnsigned();
  return (
    <>
      <PageHead title={t("review.unsignedList")} hint={t("review.unsignedHint")} />
      <Answer query={query}>
        {(lines) =>
          lines.length === 0 ? (
            <Empty>{t("review.unsignedNone")}</Empty>
          ) : (
            <table className="table">
              <thead>
                <tr>
                  <th>{t("review.site")}</th>
                  <th>{t("visit.contact")}</th>
                  <th>{t("review.who")}</th>
                  <th>{t("review.ended")}</th>
                </tr>
              </thead>
              <tbody>
                {lines.map((l) => (
                  <tr key={l.id}>
                    <VisitCell to={`/office/visits/${l.id}`} line={l} about={l.customer} />
                    <td>
                      {l.contact}
                      <span className="small quiet block">{l.phone}</span>
                    </td>
                    <td>{l.technician}</td>
                    <td className="nowrap">{timeOrDay(l.ended)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )
        }
      </Answer>
    </>
  );
}
