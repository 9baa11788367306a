import type { ReactNode } from "react";
import css from "./PageHead.module.css";

/** What a page is, in a line of its own, and what can be done on all of it. */
export function PageHead({ title, hint, children }: { title: string; hint?: string; children?: ReactNode }) {
  return (
    <header className={css.head}>
      <h1>
        {title} {hint && <span className="small quiet">{hint}</span>}
      </h1>
      {children}
    </header>
  );
}
