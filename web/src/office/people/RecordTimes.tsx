import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { rightTo, useMay } from "../../session/session";
import type { Off, Ref, WeekHours } from "../../types";
import { isoDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Failure, useCommands } from "../queries";
import { OffFields } from "./OffFields";
import { WeekFields } from "./WeekFields";

type Value = WeekHours[] | Off[] | undefined;

interface Props {
  subject: Ref;
  title: string;
  /** what is said while there are no hours */
  always: string;
  /** what the days are called on which it can't be had */
  offTitle: string;
  /** the names of the record's two fields, and what they hold */
  weeks: [field: string, value?: WeekHours[]];
  off: [field: string, value?: Off[]];
}

/** When a place or a thing can be planned: hours by week, and days on which it can't be all the same. */
export function RecordTimes({ subject, title, always, offTitle, weeks: [weeksField, weeksNow], off: [offField, offNow] }: Props) {
  const { t } = useTranslation();
  const may = useMay(rightTo("record.amended", subject.type));
  const commands = useCommands({ form: true });
  const draft = useDraft<{ typed: Record<string, Value>; had: Record<string, Value> }>(`times ${subject.type}/${subject.id}`, { typed: {}, had: {} });
  const { typed, had } = draft.value;
  const set = (field: string, to: Value, now: Value) => draft.change({ typed: { ...typed, [field]: to }, had: { [field]: now, ...had } });
  const weeks = (typed[weeksField] ?? weeksNow ?? []) as WeekHours[];
  const off = (typed[offField] ?? offNow ?? []) as Off[];
  const fields = Object.keys(typed);
  const save = () => {
    const body = Object.fromEntries(fields.map((f) => [f, typed[f] ?? null]));
    const base = Object.fromEntries(fields.map((f) => [f, had[f] ?? null]));
    commands.mutate([{ kind: "record.amended", subject, body, base }], { onSuccess: draft.clear });
  };
  return (
    <section className="sec" aria-label={title}>
      <h2>{title}</h2>
      {weeks.length === 0 && <p className="quiet">{always}</p>}
      <WeekFields weeks={weeks} may={may} from={isoDate(Date.now())} onChange={(to) => set(weeksField, to, weeksNow)} />
      <OffFields title={offTitle} list={off} may={may} onChange={(to) => set(offField, to, offNow)} />
      {may && (
        <div className="line">
          <Button variant="contained" disabled={fields.length === 0 || off.some((o) => !o.from || o.to < o.from) || commands.isPending} onClick={save}>
            {t("planned.saveTimes")}
          </Button>
          {fields.length > 0 && <ThrowAway draft={draft} />}
          <span role="status">{commands.isSuccess && fields.length === 0 && <Tag kind="good">{t("records.saved")}</Tag>}</span>
          <Failure error={commands.error} />
        </div>
      )}
    </section>
  );
}
