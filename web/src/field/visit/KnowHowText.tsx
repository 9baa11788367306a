import { useTranslation } from "react-i18next";
import type { KnowHow } from "../../types";
import { Tag } from "../../ui/Glyph";
import { PaperLink } from "./Papers";

/** Something that the company has learned: a title to open. */
export function KnowHowText({ knowHow: k }: { knowHow: KnowHow }) {
  const { t } = useTranslation();
  return (
    <details className="earlier">
      <summary>
        <span className="strong">{k.title}</span> {k.sent && <Tag kind="warn">{t("knowhow.waits")}</Tag>}
      </summary>
      <p className="pre">{k.text}</p>
      {Object.entries(k.documents ?? {}).map(([hash, { name, type, size }]) => (
        <span className="block" key={hash}>
          <PaperLink paper={{ hash, name, type, size }} />
        </span>
      ))}
    </details>
  );
}
