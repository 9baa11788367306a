import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
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
        <TextField
          size="small"
          type="date"
          label={t("intake.from")}
          value={from}
          onChange={(e) => setFrom(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <TextField
          size="small"
          type="date"
          label={t("intake.to")}
          value={to}
          onChange={(e) => setTo(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        {files.map((f) => (
          <a key={f} href={`/api/office/export/${f}?from=${from}&to=${to}`} download>
            {t(`export.${f.replace(".", "_") as "answers_csv"}`)}
          </a>
        ))}
      </p>
    </section>
  );
}
