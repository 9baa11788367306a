import type { ReactNode } from "react";

/** What a screen says when there is nothing to show, and what to expect. */
export function Empty({ children }: { children: ReactNode }) {
  return (
    <div className="empty">
      <svg viewBox="0 0 44 44" aria-hidden="true" fill="none" stroke="currentColor" strokeWidth="2">
        <path d="M22 2v10M22 32v10" strokeDasharray="3 3" />
        <path d="M22 12 32 22 22 32 12 22Z" strokeDasharray="4 3" />
      </svg>
      <div>{children}</div>
    </div>
  );
}
