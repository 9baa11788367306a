import { useTranslation } from "react-i18next";
import type { Draft } from "./draft";

/** The way to let go of what was typed and not saved; nothing when nothing was. */
export function ThrowAway({ draft }: { draft: Pick<Draft<object>, "begun" | "clear"> }) {
  const { t } = useTranslation();
  if (!draft.begun) return null;
  return (
    <button type="button" className="link" onClick={draft.clear}>
      {t("draft.throwAway")}
    </button>
  );
}
