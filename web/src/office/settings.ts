/** Changes to the company's rules. */
import type { EntryDraft, Settings } from "../types";
import { isoDate } from "../ui/format";

/** Fields of subjects of settings with their values; null is as usual. */
export type SettingsChange = { [S in keyof Settings]?: { [F in keyof Settings[S]]?: Settings[S][F] | null } };

/** What changes rules from today on. were are the rules that it was made from: what somebody else changed meanwhile is told. */
export function changeOf(were: Settings, to: SettingsChange): EntryDraft {
  const base = Object.fromEntries(
    Object.entries(to).map(([subject, fields]) => {
      const had = were[subject as keyof Settings] as unknown as Record<string, unknown>;
      return [subject, Object.fromEntries(Object.keys(fields).map((f) => [f, had[f] ?? null]))];
    }),
  );
  const today = isoDate(Date.now());
  const subject = { type: "settings", id: Object.keys(to).sort()[0] ?? "" };
  return { kind: "settings.changed", subject, body: { days: { [today]: to as Record<string, Record<string, unknown>> } }, base: { [today]: base } };
}

/** The rules with a change to them. */
export function changed(were: Settings, to: SettingsChange): Settings {
  const subjects = Object.entries(to).map(([s, fields]) => [s, { ...were[s as keyof Settings], ...fields }]);
  return { ...were, ...Object.fromEntries(subjects) };
}
