import { useDraft } from "../../draft/draft";
import type { Settings } from "../../types";
import { useCommands } from "../queries";
import { changed, changeOf, type SettingsChange } from "../settings";

/** Rules as somebody changes them: what is typed survives until it is saved or thrown away, and what others changed meanwhile is told. */
export function useRules(name: string, settings: Settings) {
  const commands = useCommands({ form: true });
  // seen: what stood there when it was first changed
  const draft = useDraft<{ typed: SettingsChange; seen: SettingsChange }>(name, { typed: {}, seen: {} });
  const { typed, seen } = draft.value;
  const now = <S extends keyof Settings, F extends keyof Settings[S]>(subject: S, field: F): Settings[S][F] => {
    const fields = typed[subject];
    return fields && field in fields ? ((fields[field] ?? undefined) as Settings[S][F]) : settings[subject][field];
  };
  const set = <S extends keyof Settings, F extends keyof Settings[S]>(subject: S, field: F, to: Settings[S][F] | undefined) => {
    const were = { [field]: settings[subject][field], ...seen[subject] };
    draft.change({ typed: { ...typed, [subject]: { ...typed[subject], [field]: to ?? null } }, seen: { ...seen, [subject]: were } });
  };
  const save = () => commands.mutate([changeOf(changed(settings, seen), typed)], { onSuccess: draft.clear });
  return { now, set, save, draft, commands, any: Object.keys(typed).length > 0 };
}
