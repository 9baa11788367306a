/** A sheet as it is designed: changed here, looked at by the server after each change, kept as a draft. */

import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { act } from "../../session/api";
import type { Condition, Question, Section, Sheet, SheetPage } from "../../types";
import { useCommands, useQuestion } from "../commands";

/** How long a change rests before the server looks at it, and before it is kept, in milliseconds. */
const rest = 300;
const restToKeep = 1200;

export type Change = (f: (s: Sheet) => Sheet) => void;

export interface Draft {
  sheet: Sheet;
  change: Change;
  /** What the server says of it: formulas parsed, problems, what is new. */
  looked: SheetPage;
  /** whether anything was changed here, and whether that is kept */
  changed: boolean;
  kept: boolean;
  error: unknown;
  publish: () => Promise<void>;
}

export const useSheetPage = (id: string) => useQuestion("/api/office/sheets/:id", { id }, { staleTime: Number.POSITIVE_INFINITY, refetchOnWindowFocus: false });

export function useDraft(page: SheetPage): Draft {
  const [sheet, setSheet] = useState(page.sheet);
  const [kept, setKept] = useState(page.kept);
  const [error, setError] = useState<unknown>();
  const [rested, setRested] = useState(page.sheet);
  const exists = useRef(page.kept);
  const { mutateAsync: command } = useCommands({ form: true });
  useEffect(() => {
    const timer = setTimeout(() => setRested(sheet), rest);
    return () => clearTimeout(timer);
  }, [sheet]);
  const looked = useQuery({
    queryKey: ["looked", rested],
    queryFn: () => act("/api/office/sheets", {}, rested),
    placeholderData: (old) => old ?? page,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
  const keep = useCallback(
    async (s: Sheet) => {
      try {
        const subject = { type: "sheetdraft", id: s.id };
        await command([
          exists.current ? { kind: "record.amended", subject, body: { ...s, pass: s.pass ?? null } } : { kind: "record.created", subject, body: s },
        ]);
        exists.current = true;
        setKept(true);
        setError(undefined);
      } catch (e) {
        setError(e);
      }
    },
    [command],
  );
  const changed = sheet !== page.sheet;
  useEffect(() => {
    if (!changed) return;
    const timer = setTimeout(() => void keep(sheet), restToKeep);
    return () => clearTimeout(timer);
  }, [sheet, changed, keep]);
  const change: Change = (f) => {
    setKept(false);
    setSheet(f);
  };
  const publish = async () => {
    try {
      await keep(sheet);
      await command([{ kind: "record.created", subject: { type: "sheet", id: `${sheet.id}@${sheet.version}` }, body: sheet }]);
    } catch (e) {
      setError(e);
    }
  };
  return { sheet, change, looked: looked.data ?? page, changed, kept, error, publish };
}

/** A name that formulas can call a question by, made of its words. */
export function idOf(text: string, taken: string[]): string {
  const base =
    text
      .normalize("NFD")
      .replace(/\p{Mn}/gu, "")
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "_")
      .replace(/^[^a-z]+|_+$/g, "")
      .slice(0, 30) || "question";
  let id = base;
  for (let n = 2; taken.includes(id); n++) id = `${base}_${n}`;
  return id;
}

export const questionsOf = (s: Sheet): Question[] => s.sections.flatMap((x) => x.questions);

export const withQuestion = (s: Sheet, id: string, f: (q: Question) => Question): Sheet => ({
  ...s,
  sections: s.sections.map((x) => ({ ...x, questions: x.questions.map((q) => (q.id === id ? f(q) : q)) })),
});

export const withSection = (s: Sheet, index: number, f: (x: Section) => Section): Sheet => ({
  ...s,
  sections: s.sections.map((x, i) => (i === index ? f(x) : x)),
});

/** Gives a question another name, everywhere it is called by it. */
export function renamed(s: Sheet, from: string, to: string): Sheet {
  const condition = (c?: Condition) => c && { ...c, tests: c.tests.map((t) => (t.question === from ? { ...t, question: to } : t)) };
  const word = new RegExp(`\\b${from}\\b`, "g");
  return {
    ...s,
    sections: s.sections.map((x) => ({
      ...x,
      showIf: condition(x.showIf),
      questions: x.questions.map((q) => ({
        ...q,
        id: q.id === from ? to : q.id,
        showIf: condition(q.showIf),
        requireIf: condition(q.requireIf),
        compare: q.compare?.map((c) => (c.question === from ? { ...c, question: to } : c)),
        quantity: q.quantity === from ? to : q.quantity,
        formula: q.formula?.replace(word, to),
      })),
    })),
  };
}

/** Moves a question to before another, or to the end of a section. */
export function moved(s: Sheet, id: string, to: { section: number; before?: string }): Sheet {
  const q = questionsOf(s).find((x) => x.id === id);
  if (!q || to.before === id) return s;
  return {
    ...s,
    sections: s.sections.map((x, i) => {
      const rest = x.questions.filter((o) => o.id !== id);
      if (i !== to.section) return rest.length === x.questions.length ? x : { ...x, questions: rest };
      const at = to.before ? rest.findIndex((o) => o.id === to.before) : -1;
      return { ...x, questions: at < 0 ? [...rest, q] : [...rest.slice(0, at), q, ...rest.slice(at)] };
    }),
  };
}
