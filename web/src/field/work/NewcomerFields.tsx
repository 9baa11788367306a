import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { plain } from "../../catalogue/wordIndex";
import { useDirectory } from "../customer/useDirectory";
import type { Newcomer } from "./newcomer";

const fields: { name: keyof Newcomer; type?: string; max: number }[] = [
  { name: "customer", max: 200 },
  { name: "contact", max: 200 },
  { name: "phone", type: "tel", max: 200 },
  { name: "site", max: 200 },
  { name: "address", max: 200 },
  { name: "machine", max: 200 },
  { name: "serial", max: 200 },
];

/** Who is new, where they are, and which machine it is about. */
export function NewcomerFields({ value, onChange }: { value: Newcomer; onChange: (value?: Newcomer) => void }) {
  const { t } = useTranslation();
  const index = useDirectory()?.index;
  const name = plain(value.customer.trim());
  const same = name.length > 2 && index?.find(name).find((p) => p.type === "customer" && plain(p.name) === name);
  return (
    <fieldset className="form-stack newcomer">
      <legend>{t("found.newcomer")}</legend>
      {fields.map(({ name, type, max }) => (
        <TextField
          key={name}
          type={type}
          required={name === "customer"}
          label={t(`newcomer.${name}`)}
          value={value[name] ?? ""}
          onChange={(e) => onChange({ ...value, [name]: e.target.value })}
          slotProps={{ htmlInput: { maxLength: max } }}
        />
      ))}
      {same && <p className="small warn-text">{t("newcomer.same", { name: same.name })}</p>}
      <button type="button" className="link" onClick={() => onChange()}>
        {t("newcomer.known")}
      </button>
    </fieldset>
  );
}
