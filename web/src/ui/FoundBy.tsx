import { useTranslation } from "react-i18next";
import type { Found } from "../types";

/** How work came up that somebody in the field opened, and who needs it. */
export function FoundBy({ found }: { found: Found }) {
  const { t } = useTranslation();
  return `${t("found.mark")}: ${[t(`found.${found.how}`), found.who].filter(Boolean).join(", ")}`;
}
