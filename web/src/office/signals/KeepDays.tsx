/** For how long signals are kept as they came. */
import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useHas } from "../../session/session";
import type { Settings } from "../../types";
import { Answer, useSettings } from "../queries";
import { SaveRules } from "../rules/SaveRules";
import { useRules } from "../rules/useRules";

const most = 400;

export function KeepDays() {
  return <Answer query={useSettings()}>{(settings) => <Shown settings={settings} />}</Answer>;
}

function Shown({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const rules = useRules("signals kept", settings);
  const keep = rules.now("signals", "keep") ?? 0;
  return (
    <section className="sec" aria-label={t("signals.keep")}>
      <h2>{t("signals.keep")}</h2>
      <TextField
        type="number"
        size="small"
        label={t("signals.keepDays")}
        helperText={t("signals.keepHint")}
        value={keep || ""}
        placeholder="30"
        disabled={!may}
        error={keep < 0 || keep > most}
        onChange={(e) => rules.set("signals", "keep", Math.round(Number(e.target.value)) || undefined)}
        slotProps={{ htmlInput: { min: 1, max: most }, inputLabel: { shrink: true } }}
      />
      <SaveRules rules={rules} wrong={keep < 0 || keep > most} />
    </section>
  );
}
