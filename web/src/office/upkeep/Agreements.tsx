import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { rightTo, useMay } from "../../session/session";
import type { AgreementLine } from "../../types";
import { Empty } from "../../ui/Empty";
import { dayText } from "../../ui/format";
import { Answer, useQuestion } from "../queries";
import { EditAgreement } from "./EditAgreement";
import css from "./Upkeep.module.css";

/** Agreements with customers: about which machines, from when to when, and how soon somebody comes. */
export function Agreements() {
  const { t } = useTranslation();
  const may = useMay(rightTo("record.created", "agreement"));
  const [editing, setEditing] = useState<AgreementLine | "new">();
  return (
    <>
      {may && (
        <p className={css.lines}>
          <Button variant="outlined" onClick={() => setEditing("new")}>
            {t("agreement.new")}
          </Button>
        </p>
      )}
      <Answer query={useQuestion("/api/office/agreements", {})}>
        {(lines) =>
          lines.length === 0 ? (
            <Empty>{t("agreement.none")}</Empty>
          ) : (
            lines.map((a) => (
              <div className="line" key={a.id}>
                <span className={a.over ? "grow quiet" : "grow"}>
                  <span className="strong">{a.name}</span> · <Link to={`/office/records/customer/${a.customer}`}>{a.whose}</Link>
                  <span className="small quiet block">
                    {[
                      t("upkeep.machines", { count: a.machines.length }),
                      t("agreement.since", { day: dayText(a.from) }),
                      a.to && t("agreement.until", { day: dayText(a.to) }),
                      a.over && t("agreement.over"),
                      a.promises?.length && t("agreement.promiseCount", { count: a.promises.length }),
                    ]
                      .filter(Boolean)
                      .join(" · ")}
                  </span>
                </span>
                {may && (
                  <button type="button" className="link small" onClick={() => setEditing(a)} aria-label={`${t("agreement.change")}: ${a.name}`}>
                    {t("agreement.change")}
                  </button>
                )}
              </div>
            ))
          )
        }
      </Answer>
      {editing && <EditAgreement known={editing === "new" ? undefined : editing} onClose={() => setEditing(undefined)} />}
    </>
  );
}
