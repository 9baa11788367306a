import { useTranslation } from "react-i18next";
import type { Outcome, OutcomeRule } from "../../types";

const all: Outcome[] = ["complete", "return_needed", "no_access", "not_needed"];
const what = ["closes", "signature", "followUp", "ready"] as const;
const words = { closes: "rules.closes", signature: "rules.signature", followUp: "rules.followUp", ready: "rules.blocks" } as const;

/** The ways a visit can end, and what follows from each. */
export function OutcomeRules({ outcomes, onChange }: { outcomes: OutcomeRule[]; onChange: (o: OutcomeRule[]) => void }) {
  const { t } = useTranslation();
  const turn = (id: string) =>
    onChange(
      outcomes.some((o) => o.id === id)
        ? outcomes.filter((o) => o.id !== id)
        : all.flatMap((x) => outcomes.find((o) => o.id === x) ?? (x === id ? { id } : [])),
    );
  const set = (id: string, key: (typeof what)[number], on: boolean) => onChange(outcomes.map((o) => (o.id === id ? { ...o, [key]: on || undefined } : o)));
  return (
    <section className="sec">
      <h2>{t("rules.outcomes")}</h2>
      <table className="table">
        <tbody>
          {all.map((id) => {
            const o = outcomes.find((x) => x.id === id);
            return (
              <tr key={id}>
                <th scope="row">
                  <label>
                    <input type="checkbox" checked={!!o} disabled={outcomes.length === 1 && !!o} onChange={() => turn(id)} /> {t(`outcome.${id}`)}
                  </label>
                </th>
                {what.map((key) => (
                  <td key={key}>
                    <label className="small">
                      <input
                        type="checkbox"
                        disabled={!o || (key === "followUp" && o.closes) || (key === "closes" && o.followUp)}
                        checked={!!o?.[key]}
                        onChange={(e) => set(id, key, e.target.checked)}
                      />{" "}
                      {t(words[key])}
                    </label>
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
