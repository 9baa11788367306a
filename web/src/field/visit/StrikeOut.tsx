import { useTranslation } from "react-i18next";
import { useDevice, useRecord } from "../device";

interface Props {
  visit: string;
  entry: string;
  at: string;
  kind: string;
  person: string;
  place?: string;
  struck?: boolean;
}

/** Strikes out what the person recorded. It stays visible, crossed out. */
export function StrikeOut({ visit, entry, at, kind, person, place, struck }: Props) {
  const { t } = useTranslation();
  const record = useRecord();
  const { me } = useDevice();
  if (struck) return <span className="tiny quiet">{t("strike.done")}</span>;
  if (person !== me.id) return null;
  return (
    <button
      type="button"
      className="link small"
      onClick={() => {
        if (confirm(t("strike.ask"))) void record("entry.struck", visit, { entry, at, kind, place });
      }}
    >
      {t("strike")}
    </button>
  );
}
