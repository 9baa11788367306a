import { type ReactNode, useId } from "react";
import { useTranslation } from "react-i18next";
import type { Draft } from "../draft/draft";
import { ThrowAway } from "../draft/ThrowAway";
import { LayerDrawer } from "./Layers";

interface Props {
  title: string;
  tall?: boolean;
  /** what is typed here, which stays when the drawer is closed, until it is saved or thrown away */
  draft?: Draft<object>;
  onClose: () => void;
  children: ReactNode;
}

/** Something to choose, from the bottom of the screen, with a way out. */
export function ChoiceDrawer({ title, tall, draft, onClose, children }: Props) {
  const { t } = useTranslation();
  const id = useId();
  return (
    <LayerDrawer anchor="bottom" onClose={onClose} slotProps={{ paper: { "aria-labelledby": id } }}>
      <div className={`choices field${tall ? " tall" : ""}`}>
        <h2 id={id}>{title}</h2>
        {children}
        <span className="drawer-foot">
          {draft && <ThrowAway draft={draft} />}
          <button type="button" className="link" onClick={onClose}>
            {t(draft?.begun ? "draft.keep" : "choose.cancel")}
          </button>
        </span>
      </div>
    </LayerDrawer>
  );
}
