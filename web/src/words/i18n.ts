import i18next from "i18next";
import { initReactI18next } from "react-i18next";
import type { Code } from "../types";
import { en } from "./en";

export type Word = keyof typeof en;

void i18next.use(initReactI18next).init({
  lng: "en",
  resources: { en: { translation: en } },
  keySeparator: false,
  nsSeparator: false,
  interpolation: { escapeValue: false },
});

/** Some roles in words: dispatcher or reviewer. */
function rolesIn(list: string): string {
  const words = list
    .split(",")
    .filter(Boolean)
    .map((r) => i18next.t(`role.${r}` as Word));
  return words.length > 0 ? new Intl.ListFormat("en-GB", { type: "disjunction" }).format(words) : i18next.t("role.administrator");
}

/** The sentence for what the core or the server has to say. */
export function say(code: Code | { code: string; args?: Record<string, string> }): string {
  const args: Record<string, string | number> = { ...code.args };
  if (args.count !== undefined) args.count = Number(args.count); // so that one and many differ
  if (args.field && i18next.exists(`field.${args.field}`)) args.field = i18next.t(`field.${args.field}` as Word).toLowerCase();
  if (args.roles !== undefined) args.roles = rolesIn(String(args.roles));
  return i18next.t([`code.${code.code}`, "code.unreadable"], args);
}
export default i18next;
