import { useTranslation } from "react-i18next";
import type { Named } from "../../types";
import { RecordPick } from "../record/RecordPick";

/** Machines, found by part of a name, each once. */
export function MachinesField({ machines, onChange }: { machines: Named[]; onChange: (to: Named[]) => void }) {
  const { t } = useTranslation();
  return (
    <>
      {machines.map((m) => (
        <p className="line" key={m.id}>
          <span className="grow">{m.name}</span>
          <button type="button" className="link small" onClick={() => onChange(machines.filter((x) => x !== m))}>
            {t("parts.drop")}
          </button>
        </p>
      ))}
      <RecordPick
        key={machines.length}
        type="asset"
        label={t("upkeep.form.addMachine")}
        name=""
        onPick={(hit) => {
          if (hit && !machines.some((m) => m.id === hit.id)) onChange([...machines, { id: hit.id, name: [hit.title, hit.detail].filter(Boolean).join(", ") }]);
        }}
      />
    </>
  );
}
