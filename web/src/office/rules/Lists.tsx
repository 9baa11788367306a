import { Button, Checkbox, FormControlLabel, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { useHas } from "../../session/session";
import type { Choice, Settings } from "../../types";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { Answer, Failure, useCommands, useSettings } from "../queries";
import { changed, changeOf, type SettingsChange } from "../settings";
import css from "./Lists.module.css";

/** The lists of the company's own that people choose from, by where they stand in the settings. */
const lists = {
  works: (s: Settings) => s.orders.works,
  skills: (s: Settings) => s.orders.skills,
  results: (s: Settings) => s.orders.results,
  sorts: (s: Settings) => s.time.sorts,
  indirect: (s: Settings) => s.time.indirect,
  returns: (s: Settings) => s.visits.returns,
  declines: (s: Settings) => s.visits.declines,
  absences: (s: Settings) => s.planning.absences,
  teams: (s: Settings) => s.planning.teams,
};
type Name = keyof typeof lists;
const names = Object.keys(lists) as Name[];
/** What is typed: lists, and whether time may be told without begin and end. */
type Typed = Partial<Record<Name, Choice[]>> & { lengths?: boolean };

/** The company's own words where people choose from a list. */
export default function Lists() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <PageHead title={t("ownLists.title")} hint={t("ownLists.hint")} />
      <Answer query={useSettings()}>{(settings) => <Shown settings={settings} />}</Answer>
    </main>
  );
}

function Shown({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const commands = useCommands({ form: true });
  // seen: a list as it was when it was first changed
  const draft = useDraft<{ typed: Typed; seen: Typed }>("own lists", { typed: {}, seen: {} });
  const { typed, seen } = draft.value;
  const now = (n: Name) => lists[n](settings) ?? [];
  const set = (n: Name, to: Choice[]) => draft.change({ typed: { ...typed, [n]: to }, seen: { ...seen, [n]: seen[n] ?? now(n) } });
  const save = () => {
    const of = (all: Typed, ...some: Name[]) =>
      Object.fromEntries(some.filter((n) => typed[n]).map((n) => [n, all[n]?.map((c) => ({ ...c, text: c.text.trim() })).filter((c) => c.text)]));
    const subjects = (all: Typed) => ({
      orders: of(all, "works", "skills", "results"),
      time: { ...of(all, "sorts", "indirect"), ...(typed.lengths !== undefined && { lengths: all.lengths }) },
      visits: of(all, "returns", "declines"),
      planning: of(all, "absences", "teams"),
    });
    const to = Object.fromEntries(Object.entries(subjects(typed)).filter(([, fields]) => Object.keys(fields).length > 0)) as SettingsChange;
    commands.mutate([changeOf(changed(settings, subjects(seen)), to)], { onSuccess: draft.clear });
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      {!may && <p className="quiet">{t("rules.administrator")}</p>}
      <fieldset className="bare" disabled={!may}>
        <div className={css.lists}>
          {names.map((n) => (
            <OneList key={n} name={n} choices={typed[n] ?? now(n)} onChange={(to) => set(n, to)} />
          ))}
        </div>
        <FormControlLabel
          control={<Checkbox checked={typed.lengths ?? settings.time.lengths ?? false} />}
          label={t("ownLists.lengths")}
          onChange={(_, lengths) => draft.change({ typed: { ...typed, lengths }, seen: { ...seen, lengths: seen.lengths ?? settings.time.lengths ?? false } })}
        />
        <p className={css.foot}>
          <Button type="submit" variant="contained" disabled={!draft.begun || commands.isPending}>
            {t("rules.save")}
          </Button>
          <ThrowAway draft={draft} />
          <span role="status">{commands.isSuccess && !draft.begun && <Tag kind="good">{t("rules.saved")}</Tag>}</span>
        </p>
        <Failure error={commands.error} />
      </fieldset>
    </form>
  );
}

function OneList({ name, choices, onChange }: { name: Name; choices: Choice[]; onChange: (to: Choice[]) => void }) {
  const { t } = useTranslation();
  return (
    <section className="sec" aria-label={t(`ownLists.${name}`)}>
      <h2>{t(`ownLists.${name}`)}</h2>
      {choices.map((c, i) => (
        <div key={c.id} className={css.line}>
          <TextField
            fullWidth
            size="small"
            value={c.text}
            onChange={(e) => onChange(choices.with(i, { ...c, text: e.target.value }))}
            slotProps={{ htmlInput: { maxLength: 500, "aria-label": t("ownLists.line", { list: t(`ownLists.${name}`), n: i + 1 }) } }}
          />
          <Button size="small" aria-label={t("ownLists.drop", { text: c.text })} onClick={() => onChange(choices.toSpliced(i, 1))}>
            {t("parts.drop")}
          </Button>
        </div>
      ))}
      <button type="button" className="link" onClick={() => onChange([...choices, { id: ulid().toLowerCase(), text: "" }])}>
        {t("ownLists.add", { list: t(`ownLists.${name}`) })}
      </button>
    </section>
  );
}
