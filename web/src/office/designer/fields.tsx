/** What the fields of a question share. */
import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Question, Sheet, SheetProblem } from "../../types";
import { say } from "../../words/i18n";

export interface FieldsProps {
  question: Question;
  sheet: Sheet;
  problem: (field: string) => SheetProblem | undefined;
  onChange: (f: Partial<Question>) => void;
}

export function UnitField({ question: q, problem, onChange }: Pick<FieldsProps, "question" | "problem" | "onChange">) {
  const { t } = useTranslation();
  const wrong = problem("unit");
  return (
    <TextField
      label={t("designer.unit")}
      value={q.unit ?? ""}
      onChange={(e) => onChange({ unit: e.target.value || undefined })}
      error={!!wrong}
      helperText={wrong && say(wrong)}
    />
  );
}
