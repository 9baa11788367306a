import { useTranslation } from "react-i18next";
import type { AnswerLine, Question } from "../types";
import { useSheet } from "./source";

/** Yes or no, one of several, some of several: one tap each. */
export function Options({ question: q, line, labelledBy }: { question: Question; line: AnswerLine; labelledBy: string }) {
  const { t } = useTranslation();
  const { answer } = useSheet();
  const several = q.kind === "several";
  const chosen = several ? (line.value ?? "").split(",").filter(Boolean) : [line.value];
  const options =
    q.kind === "yesno"
      ? [
          { id: "yes", text: t("checks.yes") },
          { id: "no", text: t("checks.no") },
        ]
      : (q.options ?? []);
  const press = (id: string) => {
    if (!several) return answer(q, line.item, line.value === id ? "" : id);
    return answer(q, line.item, (chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]).join(","));
  };
  return (
    <div className="options" role="group" aria-labelledby={labelledBy}>
      {options.map((o) => (
        <button type="button" key={o.id} aria-pressed={chosen.includes(o.id)} onClick={() => press(o.id)}>
          {several && <span aria-hidden="true" className={`tick${chosen.includes(o.id) ? " ticked" : ""}`} />}
          {o.text}
        </button>
      ))}
    </div>
  );
}
