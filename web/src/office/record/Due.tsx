import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { rightTo, useMay } from "../../session/session";
import type { Ref } from "../../types";
import { isoDate } from "../../ui/format";
import { Answer, useQuestion } from "../queries";
import { DueLines } from "../upkeep/DueLines";
import { EditPlan } from "../upkeep/EditPlan";

/** How much of what falls due is shown before somebody asks for more. */
const shown = 6;

/** What falls due for a customer, at a site or on a machine. */
export function Due({ of, name }: { of: Ref; name: string }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const may = useMay(rightTo("record.created", "upkeep"));
  const [making, setMaking] = useState(false);
  const [all, setAll] = useState(false);
  return (
    <section className="sec" aria-label={t("upkeep.due")}>
      <h2>
        {t("upkeep.due")}
        {may && of.type !== "customer" && (
          <Button size="small" onClick={() => setMaking(true)}>
            {t("upkeep.new")}
          </Button>
        )}
      </h2>
      <Answer query={useQuestion("/api/office/due/:type/:id", of)}>
        {({ lines, more }) => (
          <>
            {lines.length === 0 ? (
              <p className="quiet">{t("upkeep.noDue")}</p>
            ) : (
              <DueLines lines={all ? lines : lines.slice(0, shown)} today={isoDate(Date.now())} here={of.type !== "customer"} />
            )}
            {(all || lines.length <= shown) && more > 0 && <p className="small quiet">{t("upkeep.more", { count: more })}</p>}
            {!all && lines.length > shown && (
              <button type="button" className="link small" onClick={() => setAll(true)}>
                {t("work.all", { count: lines.length + more })}
              </button>
            )}
          </>
        )}
      </Answer>
      {making && <EditPlan target={{ ...of, name }} onClose={(id) => (id ? navigate(`/office/upkeep/${id}`) : setMaking(false))} />}
    </section>
  );
}
