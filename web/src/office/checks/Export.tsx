import { useState } from "react";
import { useTranslation } from "react-i18next";
import { DateField } from "../../form/dates";
import { isoDate } from "../../ui/format";

const files = ["answers.csv", "answers.json", "readings.csv", "readings.json"] as const;
const month = 30 * 24 * 3_600_000;

/** Answers and readings as files, for whoever works with them elsewhere. */
export function Export() {
  const { t } = useTranslation();
  const [from, setFrom] = useState(isoDate(Date.now() - month));
  const [to, setTo] = useState(isoDate(Date.now()));
  return (
    <section className="sec">
      <h2>
        {t("export.title")} <span className="small quiet">{t("export.hint")}</span>
      </h2>
      <p className="export">
        <DateField label={t("intake.from")} value={from} onChange={setFrom} />
        <DateField label={t("intake.to")} value={to} onChange={setTo} />
        {files.map((f) => (
          <a key={f} href={`/api/office/export/${f}?from=${from}&to=${to}`} download>
            {t(`export.${f.replace(".", "_") as "answers_csv"}`)}
          </a>
        ))}
      </p>
    </section>
  );
}
