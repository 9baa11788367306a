import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useHas } from "../../session/session";
import type { Duty, OutcomeRule, Policy, ReadyCheck, EndRules as Rules } from "../../types";
import { Tag } from "../../ui/Glyph";
import type { Word } from "../../words/i18n";
import { useQuestion } from "../commands";
import { Answer, Failure, useCommands } from "../queries";
import { OutcomeRules } from "./OutcomeRules";
import { type Paper, PaperRules } from "./PaperRules";

/** The company's rules of how visits end. */
export default function EndRules() {
  const { t } = useTranslation();
  const query = useQuestion("/api/office/endrules", {});
  return (
    <main className="review">
      <h1>
        {t("rules.title")} <span className="small quiet">{t("rules.hint")}</span>
      </h1>
      <Answer query={query}>{(rules) => <Form rules={rules} />}</Answer>
    </main>
  );
}

const checks: ReadyCheck[] = ["blocked", "tasks", "readings", "answers", "serials", "before", "after", "note", "clock", "signature"];
const duties: Duty[] = ["required", "asked", "optional", "off"];

function Form({ rules }: { rules: Rules }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const may = useHas("administrator");
  const [policy, setPolicy] = useState(rules.policy); // as it was when this opened, or was last kept
  const [duty, setDuty] = useState(rules.duties as Record<ReadyCheck, Duty>);
  const [outcomes, setOutcomes] = useState<OutcomeRule[]>(rules.outcomes);
  const [paper, setPaper] = useState<Paper>({ ...policy.paper, prices: policy.prices ?? false, signers: policy.signers ?? [] });
  const save = () => {
    const { prices, signers, ...layout } = paper;
    // Rules for single kinds of work stay as they are.
    const ready = [...checks.map((check) => ({ check, duty: duty[check] })), ...(policy.ready ?? []).filter((r) => r.works?.length)];
    // A merge patch takes away what it says is null.
    const patch = { ready, outcomes, prices, signers, paper: { ...layout, logo: layout.logo ?? null } };
    const base = Object.fromEntries(Object.keys(patch).map((k) => [k, policy[k as keyof Policy] ?? null]));
    commands.mutate([{ kind: "record.amended", subject: { type: "policy", id: "company" }, body: patch, base }], {
      onSuccess: () => setPolicy({ ...policy, ...patch } as Policy),
    });
  };
  return (
    <form
      className="end-rules"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      {!may && <p className="quiet">{t("rules.administrator")}</p>}
      <fieldset className="bare" disabled={!may}>
        <section className="sec">
          <h2>{t("rules.ready")}</h2>
          <p className="small quiet">{t("rules.readyHint")}</p>
          <table className="table">
            <tbody>
              {checks.map((c) => (
                <tr key={c}>
                  <th scope="row">{t(`ready.${c}` as Word)}</th>
                  {duties.map((d) => (
                    <td key={d}>
                      <label className="small">
                        <input type="radio" name={c} checked={duty[c] === d} onChange={() => setDuty({ ...duty, [c]: d })} /> {t(`duty.${d}`)}
                      </label>
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </section>
        <OutcomeRules outcomes={outcomes} onChange={setOutcomes} />
        <PaperRules paper={paper} onChange={setPaper} />
        <div className="line">
          <Button type="submit" variant="contained" disabled={commands.isPending}>
            {t("rules.save")}
          </Button>
          <span role="status">{commands.isSuccess && <Tag kind="good">{t("rules.saved")}</Tag>}</span>
          <Failure error={commands.error} />
        </div>
      </fieldset>
    </form>
  );
}
