import { Drawer } from "@mui/material";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";

/** Something to choose, from the bottom of the screen, with a way out. */
export function ChoiceDrawer({ title, tall, onClose, children }: { title: string; tall?: boolean; onClose: () => void; children: ReactNode }) {
  const { t } = useTranslation();
  return (
    <Drawer anchor="bottom" open onClose={onClose}>
      <div className={`choices field${tall ? " tall" : ""}`}>
        <h2>{title}</h2>
        {children}
        <button type="button" className="link" onClick={onClose}>
          {t("choose.cancel")}
        </button>
      </div>
    </Drawer>
  );
}
