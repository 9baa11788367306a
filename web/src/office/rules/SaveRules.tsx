import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { ThrowAway } from "../../draft/ThrowAway";
import { useHas } from "../../session/session";
import { Tag } from "../../ui/Glyph";
import { Failure } from "../queries";
import type { useRules } from "./useRules";

/** Keeps rules that were changed; whoever may not is told who may. */
export function SaveRules({ rules, wrong }: { rules: ReturnType<typeof useRules>; wrong?: boolean }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const { any, commands, draft, save } = rules;
  if (!may) return <p className="quiet">{t("rules.administrator")}</p>;
  return (
    <div className="line">
      <Button variant="contained" disabled={!any || wrong || commands.isPending} onClick={save}>
        {t("rules.save")}
      </Button>
      {any && <ThrowAway draft={draft} />}
      <span role="status">{commands.isSuccess && !any && <Tag kind="good">{t("rules.saved")}</Tag>}</span>
      <Failure error={commands.error} />
    </div>
  );
}
