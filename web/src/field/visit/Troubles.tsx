import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { TroubleFound, VisitView } from "../../types";
import { TroublePicker } from "../../ui/TroublePicker";
import { diagnosisText } from "../../ui/troubles";
import { useRecord, useSettings } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

/** What was wrong, why, and what was done about it, in the words of the company's tree. */
export function Troubles({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const record = useRecord();
  const tree = useSettings()?.troubles.tree ?? [];
  const draft = useDraft<TroubleFound>(`trouble ${view.id}`, { trouble: view.order.trouble });
  const [more, setMore] = useState(false);
  if (tree.length === 0) return null;
  const { trouble, cause, remedy } = draft.value;
  const said = (view.visit.diagnoses ?? []).filter((d) => !d.struck);
  const machine = view.asset?.kind;
  const save = async () => {
    if (!(await record("trouble.found", view.id, { asset: view.order.asset, trouble, cause, remedy }))) return;
    draft.clear();
    setMore(false);
  };
  return (
    <VisitSection id="trouble" title={t("trouble.title")}>
      {said.map((d) => (
        <div className="line" key={d.entry}>
          <span className="grow">{diagnosisText(tree, d)}</span>
          <StrikeOut view={view} line={d} kind="trouble.found" />
        </div>
      ))}
      {said.length > 0 && !more && !draft.begun ? (
        <button type="button" className="link" onClick={() => setMore(true)}>
          {t("trouble.more")}
        </button>
      ) : (
        <div className="form-stack">
          <TroublePicker
            tree={tree}
            kind="trouble"
            label={t("trouble.trouble")}
            value={trouble}
            machine={machine}
            onChange={(trouble) => draft.change({ trouble, cause: undefined, remedy: undefined })}
          />
          <TroublePicker
            tree={tree}
            kind="cause"
            label={t("trouble.cause")}
            value={cause}
            machine={machine}
            under={trouble}
            onChange={(cause) => draft.change({ cause, remedy: undefined })}
          />
          <TroublePicker
            tree={tree}
            kind="remedy"
            label={t("trouble.remedy")}
            value={remedy}
            machine={machine}
            under={cause ?? trouble}
            onChange={(remedy) => draft.change({ remedy })}
          />
          <Button variant="outlined" disabled={!cause && !remedy} onClick={() => void save()}>
            {t("trouble.save")}
          </Button>
        </div>
      )}
    </VisitSection>
  );
}
