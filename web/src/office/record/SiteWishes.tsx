import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { rightTo, useMay } from "../../session/session";
import type { PlannedPerson, RecordPage, Wishes } from "../../types";
import { Tag } from "../../ui/Glyph";
import { Failure, useCommands, useQuestion } from "../queries";

/** Whom a site asks for, and who is not wanted there. */
export function SiteWishes({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const may = useMay(rightTo("record.amended", "wishes"));
  const people = useQuestion("/api/office/planning", {}).data?.people ?? [];
  const commands = useCommands({ form: true });
  // had: what stood there when it was first changed
  const draft = useDraft<{ typed: Wishes; had: Wishes }>(`wishes ${page.ref.id}`, { typed: {}, had: {} });
  const { typed, had } = draft.value;
  const now = page.wishes ?? {};
  const fields = Object.keys(typed) as (keyof Wishes)[];
  const set = <F extends keyof Wishes>(f: F, to: Wishes[F]) => draft.change({ typed: { ...typed, [f]: to }, had: { [f]: now[f], ...had } });
  const shown = <F extends keyof Wishes>(f: F): Wishes[F] => (f in typed ? typed[f] : now[f]);
  const save = () => {
    const subject = { type: "wishes", id: page.ref.id };
    const body = Object.fromEntries(fields.map((f) => [f, typed[f] ?? null]));
    const base = Object.fromEntries(fields.map((f) => [f, had[f] ?? null]));
    const entry = page.wishes ? { kind: "record.amended" as const, subject, body, base } : { kind: "record.created" as const, subject, body: typed };
    commands.mutate([entry], { onSuccess: draft.clear });
  };
  const both = shown("prefer")?.some((p) => shown("refuse")?.includes(p));
  if (!may && !page.wishes) return null;
  return (
    <section className="sec" aria-label={t("wishes.title")}>
      <h2>{t("wishes.title")}</h2>
      <p className="small quiet">{t("wishes.hint")}</p>
      <Several label={t("wishes.prefer")} people={people} chosen={shown("prefer") ?? []} may={may} onChange={(to) => set("prefer", to)} />
      <Several label={t("wishes.refuse")} people={people} chosen={shown("refuse") ?? []} may={may} onChange={(to) => set("refuse", to)} />
      <TextField
        label={t("wishes.note")}
        value={shown("note") ?? ""}
        disabled={!may}
        fullWidth
        margin="dense"
        onChange={(e) => set("note", e.target.value)}
        slotProps={{ htmlInput: { maxLength: 4000 } }}
      />
      {both && <Tag kind="bad">{t("code.wishes.both")}</Tag>}
      {may && (
        <div className="line">
          <Button variant="contained" disabled={fields.length === 0 || both || commands.isPending} onClick={save}>
            {t("wishes.save")}
          </Button>
          {fields.length > 0 && <ThrowAway draft={draft} />}
          <span role="status">{commands.isSuccess && fields.length === 0 && <Tag kind="good">{t("records.saved")}</Tag>}</span>
          <Failure error={commands.error} />
        </div>
      )}
    </section>
  );
}

interface SeveralProps {
  label: string;
  people: PlannedPerson[];
  chosen: string[];
  may: boolean;
  onChange: (ids: string[]) => void;
}

function Several({ label, people, chosen, may, onChange }: SeveralProps) {
  // Who works in the field no more stays chosen.
  const gone = chosen.filter((id) => !people.some((p) => p.id === id));
  return (
    <TextField
      select
      label={label}
      value={chosen}
      disabled={!may}
      fullWidth
      margin="dense"
      onChange={(e) => onChange(e.target.value as unknown as string[])}
      slotProps={{ select: { multiple: true } }}
    >
      {[...people.map((p) => ({ id: p.id, name: p.person.name })), ...gone.map((id) => ({ id, name: id }))].map((p) => (
        <MenuItem key={p.id} value={p.id}>
          {p.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
