import { Button, Tab, Tabs } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate, useSearchParams } from "react-router";
import { rightTo, useMay } from "../../session/session";
import { PageHead } from "../../ui/PageHead";
import { Agreements } from "./Agreements";
import { DueScreen } from "./DueScreen";
import { EditPlan } from "./EditPlan";
import { PlanList } from "./PlanList";
import { YearLoad } from "./YearLoad";

const views = ["due", "plans", "year", "agreements"] as const;

/** Work that comes back: what falls due, by which plans, and how much of it there is. */
export default function UpkeepScreen() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const may = useMay(rightTo("record.created", "upkeep"));
  const [asked, setAsked] = useSearchParams();
  const view = views.find((v) => v === asked.get("view")) ?? "due";
  const [making, setMaking] = useState(false);
  return (
    <main className="review">
      <PageHead title={t("upkeep.title")} hint={t("upkeep.hint")}>
        {may && (
          <Button variant="contained" onClick={() => setMaking(true)}>
            {t("upkeep.new")}
          </Button>
        )}
      </PageHead>
      <Tabs
        value={view}
        onChange={(_, to) => setAsked(to === "due" ? {} : { view: to }, { replace: true })}
        aria-label={t("upkeep.views")}
        variant="scrollable"
        scrollButtons={false}
      >
        {views.map((v) => (
          <Tab key={v} value={v} label={t(`upkeep.view.${v}`)} />
        ))}
      </Tabs>
      {view === "due" && <DueScreen />}
      {view === "plans" && <PlanList />}
      {view === "year" && <YearLoad />}
      {view === "agreements" && <Agreements />}
      {making && <EditPlan onClose={(id) => (id ? navigate(`/office/upkeep/${id}`) : setMaking(false))} />}
    </main>
  );
}
