import { type ReactNode, useId } from "react";
import { useTranslation } from "react-i18next";
import type { Draft } from "../draft/draft";
import { ThrowAway } from "../draft/ThrowAway";
import { LayerDrawer } from "./Layers";
import css from "./SideDrawer.module.css";

interface Props {
  title: string;
  /** what it is about, under the title */
  about?: ReactNode;
  /** what is typed here, which stays when the drawer is closed, until it is saved or thrown away */
  draft?: Pick<Draft<object>, "begun" | "clear">;
  onClose: () => void;
  children: ReactNode;
}

/** Something to see to at the office, from the side, with a way out. */
export function SideDrawer({ title, about, draft, onClose, children }: Props) {
  const { t } = useTranslation();
  const id = useId();
  return (
    <LayerDrawer anchor="right" onClose={onClose} slotProps={{ paper: { "aria-labelledby": id } }}>
      <div className={css.drawer}>
        <h2 id={id}>{title}</h2>
        {about && <p className="small quiet">{about}</p>}
        {children}
        <span className={css.foot}>
          {draft && <ThrowAway draft={draft} />}
          <button type="button" className="link" onClick={onClose}>
            {t(draft?.begun ? "draft.keep" : "drawer.close")}
          </button>
        </span>
      </div>
    </LayerDrawer>
  );
}
