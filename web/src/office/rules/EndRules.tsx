import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useHas } from "../../session/session";
import type { Duty, OutcomeRule, ReadyCheck, EndRules as Rules } from "../../types";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import type { Word } from "../../words/i18n";
import { useQuestion } from "../commands";
import { Answer, Failure, useCommands } from "../queries";
import { changed, changeOf, type SettingsChange } from "../settings";
import { OutcomeRules } from "./OutcomeRules";
import { type Paper, PaperRules } from "./PaperRules";

/** The company's rules of how visits end. */
export default function EndRules() {
  const { t } = useTranslation();
  const query = useQuestion("/api/office/endrules", {});
  return (
    <main className="review">
      <PageHead title={t("rules.title")} hint={t("rules.hint")} />
      <Answer query={query}>{(rules) => <Form rules={rules} />}</Answer>
    </main>
  );
}

const checks: ReadyCheck[] = ["blocked", "tasks", "readings", "answers", "serials", "before", "after", "note", "trouble", "clock", "signature"];
const duties: Duty[] = ["required", "asked", "optional", "off"];

function Form({ rules }: { rules: Rules }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const may = useHas("administrator");
  const [settings, setSettings] = useState(rules.settings); // as it was when this opened, or was last kept
  const [duty, setDuty] = useState(rules.duties as Record<ReadyCheck, Duty>);
  const [outcomes, setOutcomes] = useState<OutcomeRule[]>(rules.outcomes);
  const [paper, setPaper] = useState<Paper>({ ...settings.reports, prices: settings.visits.prices ?? false, signers: settings.visits.signers ?? [] });
  const save = () => {
    const { prices, signers, ...layout } = paper;
    // Rules for single kinds of work stay as they are.
    const ready = [...checks.map((check) => ({ check, duty: duty[check] })), ...(settings.visits.ready ?? []).filter((r) => r.works?.length)];
    const to: SettingsChange = {
      visits: { ready, outcomes, prices, signers },
      reports: { ...layout, logo: layout.logo ?? null },
    };
    commands.mutate([changeOf(settings, to)], { onSuccess: () => setSettings(changed(settings, to)) });
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
