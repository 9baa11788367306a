import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { DateField, TimeField } from "../../form/dates";
import type { Off } from "../../types";
import css from "./People.module.css";

interface Props {
  title: string;
  list: Off[];
  may: boolean;
  onChange: (list: Off[]) => void;
}

/** Days, or parts of days, on which a place or a thing can't be had. */
export function OffFields({ title, list, may, onChange }: Props) {
  const { t } = useTranslation();
  const put = (i: number, to: Partial<Off>) => onChange(list.with(i, { ...list[i], ...to }));
  return (
    <>
      <h3 className={css.off}>{title}</h3>
      {list.length === 0 && <p className="quiet">{t("planned.noOff")}</p>}
      {list.map((o, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: days off have nothing else that tells them apart
        <fieldset className={css.week} key={i} disabled={!may}>
          <legend className="visually-hidden">{title}</legend>
          <DateField label={t("absence.from")} value={o.from} disabled={!may} onChange={(from) => put(i, { from, to: o.to || from })} />
          <DateField label={t("absence.to")} value={o.to} disabled={!may} onChange={(to) => put(i, { to: to || o.from })} />
          <TimeField label={t("absence.begin")} value={o.begin ?? ""} onChange={(begin) => put(i, { begin: begin || undefined })} />
          <TimeField label={t("absence.end")} value={o.end ?? ""} onChange={(end) => put(i, { end: end || undefined })} />
          <TextField
            label={t("absence.why")}
            value={o.why ?? ""}
            onChange={(e) => put(i, { why: e.target.value || undefined })}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
          {may && (
            <button type="button" className="link" onClick={() => onChange(list.toSpliced(i, 1))}>
              {t("planned.dropWeek")}
            </button>
          )}
        </fieldset>
      ))}
      {may && (
        <button type="button" className="link" onClick={() => onChange([...list, { from: "", to: "" }])}>
          {t("planned.addOff")}
        </button>
      )}
    </>
  );
}
