import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { CrewStep } from "../../types";
import { time } from "../../ui/format";
import { useRecord } from "../device";
import type { CrewAsk } from "./useCrewAsks";

/** Asks whoever was clocked on a visit that they were not planned for whether they were there. */
export default function CrewAsks({ asks }: { asks: CrewAsk[] }) {
  return asks.map((a) => <Ask key={a.visit} ask={a} />);
}

function Ask({ ask }: { ask: CrewAsk }) {
  const { t } = useTranslation();
  const record = useRecord();
  const steps = ask.steps.map((s: CrewStep) => ({ entry: s.entry, at: s.at }));
  const answer = (there: boolean) => void record("crew.answered", ask.visit, { there, steps });
  const [first, last] = [ask.steps[0], ask.steps[ask.steps.length - 1]];
  const when = last.clock === "stop" ? t("crew.askSpan", { from: time(first.at), to: time(last.at) }) : t("crew.since", { time: time(first.at) });
  return (
    <section className="confirm-end" aria-label={t("crew.ask", { site: ask.site })}>
      <p>
        <span className="strong block">{t("crew.ask", { site: ask.site })}</span>
        <span className="small">{t("crew.askHint", { name: ask.by, when })}</span>
      </p>
      <div className="confirm-end-row">
        <Button variant="contained" onClick={() => answer(true)}>
          {t("crew.there")}
        </Button>
        <Button onClick={() => answer(false)}>{t("crew.notThere")}</Button>
      </div>
    </section>
  );
}
