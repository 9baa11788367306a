import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useBegun } from "../../draft/draft";
import { useHas } from "../../session/session";
import type { VisitView } from "../../types";
import { PhonedDrawer } from "./PhonedDrawer";

/** Opens what is written down of a visit for whoever tells it by telephone: of one that has somebody, and is not over. */
export function Phoned({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const begun = useBegun(`phoned ${view.id}`);
  const may = useHas("dispatcher", "reviewer");
  if (!may || !view.visit.technician || ["finished", "withdrawn", "declined"].includes(view.visit.stage)) return null;
  return (
    <>
      <Button onClick={() => setOpen(true)}>{t(begun ? "phoned.goOn" : "phoned.open")}</Button>
      {open && <PhonedDrawer view={view} onClose={() => setOpen(false)} />}
    </>
  );
}
