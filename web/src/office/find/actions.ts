import { useTranslation } from "react-i18next";
import { useMay } from "../../session/session";
import type { FoundRecord } from "../../types";
import type { Choice } from "./choices";

const plain = (s: string) =>
  s
    .normalize("NFD")
    .replace(/\p{Mn}/gu, "")
    .toLowerCase();

/** What can be done by its name, and what with the records that were found: those whose words begin with all that was typed. */
export function useActions(text: string, hits: FoundRecord[]): Choice[] {
  const { t } = useTranslation();
  const [mayOpen, mayPlan, mayHours] = [useMay("work.opened"), useMay("visit.planned"), useMay("day.approved")];
  const typed = plain(text).split(/\s+/).filter(Boolean);
  const all: { title: string; to: string; more?: string }[] = [
    ...(mayOpen ? [{ title: t("bar.do.open"), to: "/office/intake", more: t("office.intake") }] : []),
    ...(mayPlan ? [{ title: t("bar.do.plan"), to: "/office", more: t("office.board") }] : []),
    { title: t("bar.do.review"), to: "/office/review", more: t("office.review") },
    { title: t("bar.do.held"), to: "/office/review/look" },
    ...(mayHours ? [{ title: t("bar.do.hours"), to: "/office/hours", more: t("office.hours") }] : []),
    { title: t("bar.do.stores"), to: "/office/stores", more: t("office.stores") },
    { title: t("bar.do.sheets"), to: "/office/setup/sheets" },
    { title: t("bar.do.upkeep"), to: "/office/upkeep", more: t("office.upkeep") },
    { title: t("bar.do.promises"), to: "/office/promises" },
    { title: t("bar.do.signals"), to: "/office/setup/signals" },
    { title: t("bar.do.undertakings"), to: "/office/undertakings" },
    { title: t("bar.do.knowhow"), to: "/office/knowhow" },
    { title: t("bar.do.setup"), to: "/office/setup", more: t("office.setup") },
  ];
  const named = all.filter((a) => {
    const words = plain(`${a.title} ${a.more ?? ""}`).split(/\s+/);
    return typed.every((w) => words.some((x) => x.startsWith(w)));
  });
  const about = hits
    .filter((h) => mayOpen && ["customer", "site", "asset"].includes(h.type))
    .slice(0, 2)
    .map((h) => ({ title: t("bar.do.openFor", { name: h.title }), to: `/office/intake?${h.type}=${encodeURIComponent(h.id)}` }));
  return [...about, ...named].map((a) => ({ key: `do ${a.to}`, type: "action", title: a.title, to: a.to }));
}
