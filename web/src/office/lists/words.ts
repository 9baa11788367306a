/** What columns of lists and their values are called. */
import { useTranslation } from "react-i18next";
import type { ListColumn } from "../../types";
import { isoDate, shortDate, time } from "../../ui/format";
import { en } from "../../words/en";
import type { Word } from "../../words/i18n";
import { useSettings } from "../queries";

export const listNames = ["orders", "visits", "customers", "sites", "assets", "people", "parts"] as const;
export type ListName = (typeof listNames)[number];
export const isList = (name: string): name is ListName => (listNames as readonly string[]).includes(name);

/** Where the words for the values of columns of codes are. */
const codes: Record<string, string> = { state: "orderState", stage: "stage", outcome: "outcome", priority: "priority", urgency: "priority" };

export interface Words {
  title: (column: string) => string;
  /** a value of a column, as it is shown */
  value: (column: ListColumn, value: string) => string;
  /** the values that a column has, where they are few */
  codes: (column: ListColumn) => string[];
}

export function useWords(list: ListName): Words {
  const { t, i18n } = useTranslation();
  const works = useSettings().data?.orders.works ?? [];
  const word = (key: string, otherwise: string) => (i18n.exists(key) ? t(key as Word) : otherwise);
  const code = (column: string, value: string) => {
    if (column === "kind") return works.find((k) => k.id === value)?.text ?? value;
    if (column === "roles")
      return value
        .split(",")
        .map((r) => word(`role.${r}`, r))
        .join(", ");
    return word(`${codes[column] ?? column}.${value}`, value);
  };
  return {
    codes: (c) => {
      if (c.kind === "yes") return ["1", "0"];
      if (c.kind !== "code") return [];
      if (c.name === "kind") return works.map((k) => k.id);
      const prefix = `${c.name === "roles" ? "role" : (codes[c.name] ?? c.name)}.`;
      return Object.keys(en).flatMap((key) => (key.startsWith(prefix) ? key.slice(prefix.length) : []));
    },
    title: (column) => t([`list.${list}.${column}`, `list.column.${column}`] as unknown as Word),
    value: (c, value) => {
      if (c.kind === "yes") return t(value === "1" ? "list.yes" : "list.no");
      if (!value) return "";
      if (c.kind === "code") return code(c.name, value);
      if (c.kind === "moment") return `${shortDate(value)} ${time(value)}`;
      if (c.kind === "day") return dayWord(value);
      return value;
    },
  };
}

const dayWord = (day: string) => (isoDate(Date.parse(`${day}T12:00:00Z`)) === day ? shortDate(`${day}T12:00:00Z`) : day);
