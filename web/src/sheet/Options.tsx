import { useRef } from "react";
import { useTranslation } from "react-i18next";
import type { AnswerLine, Question } from "../types";
import { secondTap } from "../ui/secondTap";
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
  const last = useRef({ id: "", at: 0 });
  const press = (id: string) => {
    // A second tap on the same is of a hand that was not sure of the first: it takes nothing back.
    const again = last.current.id === id && performance.now() - last.current.at < secondTap;
    last.current = { id, at: performance.now() };
    if (again) return;
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
