import { useTranslation } from "react-i18next";
import { timeOrDay } from "../ui/format";
import type { Word } from "../words/i18n";

/** What an entry says, in words. What is not known of it is left out. */
export function Sentence({ kind, args: given }: { kind: string; args: Record<string, string> }) {
  const { t, i18n } = useTranslation();
  const args: Record<string, string> = {
    unit: "",
    reason: "",
    role: "",
    value: "",
    text: "",
    name: "",
    part: "",
    quantity: "",
    point: "",
    question: "",
    technician: "",
    task: "",
    helper: "",
    ...given,
  };
  if (args.start) args.start = timeOrDay(args.start);
  if (args.outcome) args.outcome = t(`outcome.${args.outcome}` as Word);
  if (args.clock) args.clock = t(`clock.${args.clock}` as Word).toLowerCase();
  if (args.kind) args.kind = t(`entry.${args.kind}` as Word);
  if (args.value === "yes") args.value = t("checks.yes");
  if (args.value === "no") args.value = t("checks.no");
  const key = `trail.${kind}`;
  return <>{i18n.exists(key) ? t(key as Word, args).replace(/: $/, "") : t("trail.unknown", { kind })}</>;
}
