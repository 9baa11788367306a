/** The last commands are taken back, the latest first: by Ctrl Z, or on the strip that says what was done. */
import { useMutation } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { act } from "../session/api";
import type { UndoLine } from "../types";
import type { Word } from "../words/i18n";
import { readings } from "./news";
import { Failure, useQuestion } from "./queries";

/** How long the strip stays, in milliseconds. */
const shownFor = 20_000;

interface Told {
  line: UndoLine;
  what: "done" | "back" | "final";
}

const Context = createContext<() => void>(() => {});

/** Takes the last command back. */
export const useUndo = () => useContext(Context);

export function UndoProvider({ children }: { children: ReactNode }) {
  const { t } = useTranslation();
  const list = useQuestion("/api/office/undoable", {}).data;
  const [told, setTold] = useState<Told>();
  const passed = useRef(new Set<string>()); // what can't be taken back, and was said so
  const undo = useMutation({
    mutationFn: (line: UndoLine) => act("/api/office/undo/:id", { id: line.id }, { reason: t("undo.reason") }),
    onSuccess: (_, line) => setTold({ line, what: "back" }),
    onSettled: () => readings.told,
  });
  const latest = list?.[0];
  const head = list && (latest?.seq ?? 0);
  const [known, setKnown] = useState<number>();
  if (head !== undefined && head !== known) {
    setKnown(head);
    // One that was done just now is at the head of a list that was there before; after one was taken back an older is.
    if (latest && known !== undefined && head > known && !latest.final) setTold({ line: latest, what: "done" });
  }
  const { mutate, reset, isPending } = undo;
  const back = useCallback(() => {
    const next = list?.find((l) => !passed.current.has(l.id));
    if (!next || isPending) return;
    reset();
    if (next.final) {
      passed.current.add(next.id);
      setTold({ line: next, what: "final" });
    } else {
      mutate(next);
    }
  }, [list, mutate, reset, isPending]);
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.key.toLowerCase() !== "z" || !(e.ctrlKey || e.metaKey) || e.shiftKey || e.altKey) return;
      if ((e.target as HTMLElement).closest("input, textarea, select, [contenteditable], [role=dialog]")) return; // it is the browser's
      e.preventDefault();
      back();
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, [back]);
  const close = useCallback(() => {
    setTold(undefined);
    reset();
  }, [reset]);
  return (
    <Context.Provider value={back}>
      {children}
      {(told || undo.error) && <Strip key={`${told?.what} ${told?.line.id}`} told={told} error={undo.error} busy={isPending} onUndo={back} onClose={close} />}
    </Context.Provider>
  );
}

interface StripProps {
  told?: Told;
  error: unknown;
  busy: boolean;
  onUndo: () => void;
  onClose: () => void;
}

function Strip({ told, error, busy, onUndo, onClose }: StripProps) {
  const { t } = useTranslation();
  useEffect(() => {
    if (error) return; // it stays until it was read
    const timer = setTimeout(onClose, shownFor);
    return () => clearTimeout(timer);
  }, [onClose, error]);
  const line = told?.line;
  const what = line && [t(`entry.${line.kind}` as Word, { defaultValue: t("undo.change") }), line.about].filter(Boolean).join(" · ");
  const more = line && line.count > 1 ? ` ${t("undo.more", { count: line.count - 1 })}` : "";
  return (
    <div className="undo-strip on-night" role="status">
      {what && <span>{told.what === "done" ? what + more : t(`undo.said.${told.what}`, { what: what + more })}</span>}
      {told?.what === "done" && (
        <button type="button" className="link" disabled={busy} onClick={onUndo}>
          {t("undo.do")} <kbd>Ctrl Z</kbd>
        </button>
      )}
      <Failure error={error} />
      <button type="button" className="link" aria-label={t("undo.close")} onClick={onClose}>
        ×
      </button>
    </div>
  );
}
