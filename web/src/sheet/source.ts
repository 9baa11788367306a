/** What a sheet being filled in needs from around it: the phone records, the designer's preview only remembers. */
import { createContext, type ReactNode, useContext } from "react";
import { type Draft, useDraft } from "../draft/draft";
import type { Answer, AnswerLine, Kit, Part, Question, Section, Sheet, SheetItem, SheetProgress } from "../types";

export interface SheetSource {
  /** what drafts of its answers are named after */
  name: string;
  sheet: Sheet;
  state: SheetProgress;
  answers: Record<string, Answer>;
  currency: string;
  /** Asks for an answer to be kept; an empty value takes it back. Resolves to whether it is. */
  answer: (question: Question, item: string | undefined, value: string, note?: string) => Promise<boolean>;
  repeat: (section: Section, item: SheetItem) => Promise<unknown>;
  /** adds an item to a section that repeats; tells whether it is kept */
  copy: (section: Section, name: string, from?: SheetItem) => Promise<boolean>;
  /** The catalogue, to pick from. */
  catalogue: () => Promise<{ parts: { id: string; body: Part }[]; kits: { id: string; body: Kit }[] }>;
  /** What only the phone can show. */
  photos: (question: Question, item?: string) => ReactNode;
  reading: (question: Question, line: AnswerLine) => ReactNode;
  strike: (answer: Answer, about: "sheet.answered") => ReactNode;
  strikeItem: (item: SheetItem) => ReactNode;
  paper: (question: Question) => ReactNode;
  /** Areas measured here before, by name. */
  areas: Record<string, string>;
}

const Context = createContext<SheetSource | null>(null);
export const SheetSourceProvider = Context.Provider;

export function useSheet(): SheetSource {
  const source = useContext(Context);
  if (!source) throw new Error("no sheet");
  return source;
}

/** What is typed of one answer and is not kept yet. */
export function useAnswerDraft<T extends object>(q: Question, item: string | undefined, part: string, blank: T): Draft<T> {
  return useDraft(`sheet ${useSheet().name} ${keyOf(q.id, item)} ${part}`, blank);
}

export const keyOf = (question: string, item?: string) => (item ? `${question}@${item}` : question);

/** Where a question is on the page. */
export const placeOf = (question: string, item?: string) => `q-${keyOf(question, item).replace("@", "-at-")}`;

export function findQuestion(sheet: Sheet, id: string): Question | undefined {
  for (const s of sheet.sections) {
    const q = s.questions.find((x) => x.id === id);
    if (q) return q;
  }
  return undefined;
}

/** Moves to a question, and the keyboard's focus into it. */
export function goTo(question: string, item?: string) {
  const place = document.getElementById(placeOf(question, item)) ?? document.getElementById(`section-${question}`);
  place?.scrollIntoView({ behavior: "smooth", block: "center" });
  place?.querySelector<HTMLElement>("button, input, textarea")?.focus({ preventScroll: true });
}
