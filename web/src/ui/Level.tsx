import { useTranslation } from "react-i18next";
import type { Level } from "../types";
import { Tag } from "./Glyph";

/** How a reading lies to its limits, in a mark and a word. */
export function LevelTag({ level }: { level: Level }) {
  const { t } = useTranslation();
  return <Tag kind={level === "ok" ? "good" : level.startsWith("alarm") ? "bad" : "warn"}>{t(`level.${level}`)}</Tag>;
}
