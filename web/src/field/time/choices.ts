import type { TFunction } from "i18next";
import type { Span } from "../../types";
import type { Named, What } from "./day";

export interface Choice {
  id: string;
  text: string;
  what: What;
}

/** What time can be said to have gone to: the day's visits, indirect work, a break, one's own. */
export function choicesOf({ day, visits, settings }: Named, t: TFunction): Choice[] {
  const out: Choice[] = [];
  // What the day's time went to comes first, in the order in which it did; then what was planned for it.
  const order = day.spans.map((s) => s.visit);
  const rank = (id: string) => (order.includes(id) ? order.indexOf(id) : order.length);
  const ranked = Object.entries(visits).sort(([a, v], [b, w]) => rank(a) - rank(b) || v.start.localeCompare(w.start));
  for (const [visit, v] of ranked) {
    for (const kind of ["work", "travel"] as const) out.push({ id: `${kind} ${visit}`, text: `${t(`clock.${kind}`)}: ${v.site}`, what: { kind, visit } });
    for (const p of settings.time.pauses?.filter((p) => p.clock === "wait") ?? [])
      out.push({ id: `wait ${visit} ${p.id}`, text: `${p.text}: ${v.site}`, what: { kind: "wait", visit, code: p.id } });
  }
  for (const c of settings.time.indirect ?? []) out.push({ id: `indirect ${c.id}`, text: c.text, what: { kind: "indirect", code: c.id } });
  out.push({ id: "break", text: t("clock.break"), what: { kind: "break" } });
  out.push({ id: "off", text: t("clock.off"), what: { kind: "off" } });
  return out;
}

/** What was chosen; a task stays when the visit does. */
export function whatOf(choices: Choice[], id: string, span?: Span): What {
  const { what } = choices.find((c) => c.id === id) ?? choices[0];
  return what.kind === span?.kind && what.visit === span?.visit ? { ...what, task: span?.task } : what;
}
