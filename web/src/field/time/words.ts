import { useTranslation } from "react-i18next";
import type { Named, What } from "./day";

/** Says what time went to: the kind, and where or for what. */
export function useWhat({ visits, settings }: Named) {
  const { t } = useTranslation();
  return (w: What): { kind: string; about: string } => {
    const visit = w.visit ? visits[w.visit] : undefined;
    const pause = settings.time.pauses?.find((p) => p.id === w.code)?.text;
    const code = settings.time.indirect?.find((p) => p.id === w.code)?.text;
    const kind = w.kind === "indirect" ? (code ?? t("clock.indirect")) : t(`clock.${w.kind}`);
    return { kind, about: [visit?.site, w.task && visit?.tasks[w.task], w.kind === "wait" && pause].filter(Boolean).join(" · ") };
  };
}
