import type { ReactNode } from "react";

/** A part of the visit's page: a rule, a title, something at its end. */
export function VisitSection({ id, title, end, children }: { id: string; title: string; end?: ReactNode; children: ReactNode }) {
  return (
    <section className="sec" id={id} tabIndex={-1} aria-labelledby={`${id}-title`}>
      <h2>
        <span id={`${id}-title`}>{title}</span>
        {end && <span className="small">{end}</span>}
      </h2>
      {children}
    </section>
  );
}

/** Moves to a section, and the keyboard's focus with it, without leaving a trace in the history. */
export function jump(e: { preventDefault: () => void }, section: string) {
  e.preventDefault();
  const target = document.getElementById(section);
  target?.scrollIntoView({ behavior: "smooth", block: "start" });
  target?.focus({ preventScroll: true });
}
