import { useFieldArray } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { TextInput } from "../../form/fields";
import css from "./Order.module.css";

const most = 10;

/** People to see for one order. */
export function People() {
  const { t } = useTranslation();
  const { fields, append, remove } = useFieldArray({ name: "people" });
  return (
    <fieldset className={css.people}>
      <legend className="small">{t("orderPage.people")}</legend>
      {fields.map((f, i) => (
        <div key={f.id} className={css.person}>
          <TextInput name={`people.${i}.name`} label={t("field.contact.name")} max={200} />
          <TextInput name={`people.${i}.phone`} label={t("field.contact.phone")} max={200} />
          <button type="button" className="link small" onClick={() => remove(i)}>
            {t("parts.drop")}
          </button>
        </div>
      ))}
      {fields.length < most && (
        <button type="button" className="link" onClick={() => append({ name: "", role: "", phone: "", email: "" })}>
          {t("orderPage.addPerson")}
        </button>
      )}
    </fieldset>
  );
}
