/** Stage glyphs: one waymark diamond, told apart by its filling, never by colour alone. The word stands beside it. */
import type { ReactNode } from "react";
import type { Stage } from "../types";

const diamond = "M11 1.5 20.5 11 11 20.5 1.5 11Z";
const line = { fill: "none", stroke: "currentColor", strokeWidth: 1.8 };

const fillings: Record<Stage, ReactNode> = {
  planned: <path d={diamond} {...line} strokeDasharray="2.6 2.6" />,
  sent: <path d={diamond} {...line} />,
  accepted: (
    <>
      <path d={diamond} {...line} />
      <circle cx="11" cy="11" r="2.6" fill="currentColor" />
    </>
  ),
  declined: (
    <>
      <path d={diamond} {...line} strokeDasharray="2.6 2.6" />
      <path d="M6.5 11h9" {...line} />
    </>
  ),
  travelling: (
    <>
      <path d={diamond} {...line} style={{ fill: "var(--page)" }} />
      <path d="M11 1.5 20.5 11 11 20.5Z" fill="currentColor" />
    </>
  ),
  on_site: (
    <>
      <path d={diamond} {...line} style={{ fill: "var(--blaze)" }} />
      <circle cx="11" cy="11" r="2.6" style={{ fill: "var(--blaze-ink)" }} />
    </>
  ),
  paused: <path d="M11 1.5 17.6 8.1H4.4ZM4.4 13.9H17.6L11 20.5Z" stroke="currentColor" strokeWidth="1.6" style={{ fill: "var(--blaze)" }} />,
  finished: (
    <>
      <path d={diamond} {...line} fill="currentColor" />
      <path d="M7 11.2 10 14 15 8.4" fill="none" strokeWidth="2" style={{ stroke: "var(--page)" }} />
    </>
  ),
  withdrawn: (
    <>
      <path d={diamond} {...line} />
      <path d="M6 16 16 6" {...line} />
    </>
  ),
};

export function Glyph({ stage }: { stage: Stage }) {
  return (
    <svg className="glyph" viewBox="0 0 22 22" aria-hidden="true">
      {fillings[stage]}
    </svg>
  );
}

const marks = {
  warn: <path d="M7 1.2 13.4 12.4H.6Z" fill="currentColor" />,
  bad: <path d="M7 1.2 13.4 12.4H.6Z" fill="currentColor" />,
  good: <path d="M2 7.5 5.5 11 12 3" stroke="currentColor" strokeWidth="2.2" fill="none" />,
  todo: <circle cx="7" cy="7" r="5.2" stroke="currentColor" strokeWidth="1.6" fill="none" />,
  wait: <path d="M2 3.5h10M2 7h10M2 10.5h6" stroke="currentColor" strokeWidth="1.8" fill="none" />,
};

/** A small mark before words: warn is an ochre triangle, bad a crimson one, good a tick. */
export function Mark({ kind }: { kind: keyof typeof marks }) {
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
      {marks[kind]}
    </svg>
  );
}

export function Tag({ kind, children }: { kind: "warn" | "bad" | "good"; children: ReactNode }) {
  return (
    <span className={`tag ${kind}`}>
      <Mark kind={kind} />
      <span>{children}</span>
    </span>
  );
}
