import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { useTranslation } from "react-i18next";
import type { Question, QuestionKind, Section } from "../../types";
import { Grip, Sorting } from "../../ui/Sorting";
import type { Chosen } from "./Designer";
import { type Draft, idOf, moved, questionsOf, withSection } from "./draft";

export const kinds: QuestionKind[] = [
  "yesno",
  "choice",
  "several",
  "number",
  "text",
  "date",
  "datetime",
  "photo",
  "signature",
  "part",
  "reading",
  "area",
  "scan",
  "computed",
  "instruction",
];

interface Props {
  draft: Draft;
  chosen: Chosen;
  onChoose: (c: Chosen) => void;
}

/** The sections and questions, in order. They are moved by dragging, or with the keyboard: space, arrows, space. */
export function Outline({ draft, chosen, onChoose }: Props) {
  const { t } = useTranslation();
  const { sheet, change, looked } = draft;
  const all = sheet.sections.flatMap((s, i) => [`section ${i}`, ...s.questions.map((q) => q.id)]);
  const nameOf = (id: string) =>
    (id.startsWith("section ") ? sheet.sections[Number(id.slice(8))]?.title : questionsOf(sheet).find((q) => q.id === id)?.text) ?? "";
  const dropped = (dragged: string, onto: string) => {
    const down = all.indexOf(dragged) < all.indexOf(onto);
    const [word, n] = onto.split(" ");
    change((s) => {
      if (word === "section")
        return moved(s, dragged, down ? { section: Number(n), before: s.sections[Number(n)].questions[0]?.id } : { section: Math.max(0, Number(n) - 1) });
      const section = s.sections.findIndex((x) => x.questions.some((q) => q.id === onto));
      const list = s.sections[section].questions;
      const at = list.findIndex((q) => q.id === onto);
      return moved(s, dragged, { section, before: down ? list.slice(at + 1).find((q) => q.id !== dragged)?.id : onto });
    });
  };
  const wrong = (id: string) => looked.problems.some((p) => p.question === id);
  return (
    <nav className="outline" aria-label={t("designer.outline")}>
      <button type="button" className="outline-sheet" aria-current={!chosen} onClick={() => onChoose(undefined)}>
        {sheet.title}
      </button>
      <Sorting ids={all} nameOf={nameOf} onDrop={dropped}>
        {sheet.sections.map((s, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: sections are told apart by their place
          <div key={i} className="outline-section">
            <SectionHead index={i} section={s} chosen={!!chosen && "section" in chosen && chosen.section === i} onChoose={() => onChoose({ section: i })} />
            {s.questions.map((q) => (
              <Row
                key={q.id}
                question={q}
                wrong={wrong(q.id)}
                chosen={!!chosen && "question" in chosen && chosen.question === q.id}
                onChoose={() => onChoose({ question: q.id })}
              />
            ))}
            <Add draft={draft} index={i} onChoose={onChoose} />
          </div>
        ))}
      </Sorting>
      <button
        type="button"
        className="link"
        onClick={() => {
          change((s) => ({ ...s, sections: [...s.sections, { title: t("designer.newSection"), questions: [] }] }));
          onChoose({ section: sheet.sections.length });
        }}
      >
        {t("designer.addSection")}
      </button>
    </nav>
  );
}

function SectionHead({ index, section, chosen, onChoose }: { index: number; section: Section; chosen: boolean; onChoose: () => void }) {
  const { setNodeRef } = useSortable({ id: `section ${index}`, disabled: { draggable: true } });
  const { t } = useTranslation();
  return (
    <button ref={setNodeRef} type="button" className="outline-head" aria-current={chosen} onClick={onChoose}>
      {section.title || t("designer.newSection")}
      {section.repeat && <span className="tiny quiet"> {t("designer.each", { noun: section.repeat.noun })}</span>}
    </button>
  );
}

function Row({ question: q, chosen, wrong, onChoose }: { question: Question; chosen: boolean; wrong: boolean; onChoose: () => void }) {
  const { t } = useTranslation();
  const sortable = useSortable({ id: q.id });
  const { setNodeRef, transform, transition } = sortable;
  return (
    <div
      ref={setNodeRef}
      className={`outline-row${chosen ? " outline-chosen" : ""}${wrong ? " outline-wrong" : ""}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <Grip name={q.text} sortable={sortable} />
      <button type="button" className="outline-name" aria-current={chosen} onClick={onChoose}>
        {q.text || t("designer.noText")}
        <span className="tiny quiet block">
          {t(`kind.${q.kind}`)}
          {q.required && ` · ${t("checks.required")}`}
          {q.showIf && ` · ${t("designer.conditional")}`}
        </span>
      </button>
    </div>
  );
}

function Add({ draft, index, onChoose }: { draft: Draft; index: number; onChoose: (c: Chosen) => void }) {
  const { t } = useTranslation();
  const { sheet, change } = draft;
  const add = (kind: QuestionKind) => {
    const text = t(`kind.${kind}`);
    const id = idOf(
      text,
      questionsOf(sheet).map((q) => q.id),
    );
    const fresh: Question = { id, kind, text: "" };
    if (kind === "choice" || kind === "several") fresh.options = [1, 2].map((n) => ({ id: `o${n}`, text: t("designer.option", { n }) }));
    change((s) => withSection(s, index, (x) => ({ ...x, questions: [...x.questions, fresh] })));
    onChoose({ question: id });
  };
  return (
    <select
      className="outline-add"
      value=""
      aria-label={t("designer.addTo", { section: sheet.sections[index].title })}
      onChange={(e) => e.target.value && add(e.target.value as QuestionKind)}
    >
      <option value="">{t("designer.add")}</option>
      {kinds.map((k) => (
        <option key={k} value={k}>
          {t(`kind.${k}`)}
        </option>
      ))}
    </select>
  );
}
