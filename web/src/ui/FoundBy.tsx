import { useTranslation } from "react-i18next";
import type { Found } from "../types";

/** How work came up that somebody in the field opened, who needs it, and what nobody knew before. */
export function FoundBy({ found }: { found: Found }) {
  const { t } = useTranslation();
  return `${t("found.mark")}: ${[t(`found.${found.how}`), found.who, ...(found.new ?? []).map((typ) => t(`found.new.${typ}`))].filter(Boolean).join(", ")}`;
}
