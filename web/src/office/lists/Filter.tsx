import { Button, Checkbox, FormControlLabel, Popover, TextField } from "@mui/material";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { DateField } from "../../form/dates";
import type { ListColumn, ListFilter } from "../../types";
import { useBack } from "../../ui/back";
import type { Asking } from "./address";
import css from "./Lists.module.css";
import { useGroups } from "./queries";
import { type ListName, useWords } from "./words";

interface Props {
  list: ListName;
  column: ListColumn;
  asked: Asking;
  /** whether it was just added, and is to be filled in */
  opened: boolean;
  onClose: () => void;
  onChange: (f: ListFilter) => void;
}

/** A filter by one column: what it asks for, and a press on it to ask for something else. */
export function Filter({ list, column, asked, opened, onClose, onChange }: Props) {
  const { t } = useTranslation();
  const words = useWords(list);
  const at = useRef<HTMLSpanElement>(null);
  const [again, setAgain] = useState(false);
  const filter = asked.where.find((f) => f.column === column.name) ?? { column: column.name };
  const close = () => {
    setAgain(false);
    onClose();
  };
  return (
    <span ref={at} className={css.filter}>
      <Button variant={filter.in || filter.from || filter.to ? "contained" : "outlined"} color="inherit" onClick={() => setAgain(true)} aria-haspopup="dialog">
        {words.title(column.name)}
        <Said list={list} column={column} asked={asked} filter={filter} />
      </Button>
      {(filter.in || filter.from || filter.to) && (
        <Button className={css.off} aria-label={t("list.unfilter", { name: words.title(column.name) })} onClick={() => onChange({ column: column.name })}>
          ×
        </Button>
      )}
      {(opened || again) && (
        <Popover open anchorEl={() => at.current} onClose={close} anchorOrigin={{ vertical: "bottom", horizontal: "left" }}>
          <Choosing title={words.title(column.name)} onBack={close}>
            {ranged(column) ? (
              <Range column={column} filter={filter} onChange={onChange} />
            ) : (
              <Values list={list} column={column} asked={asked} filter={filter} onChange={onChange} />
            )}
          </Choosing>
        </Popover>
      )}
    </span>
  );
}

const ranged = (c: ListColumn) => ["number", "minutes", "moment", "day"].includes(c.kind);

function Choosing({ title, onBack, children }: { title: string; onBack: () => void; children: React.ReactNode }) {
  useBack(onBack);
  return (
    <div className={css.choosing} role="dialog" aria-label={title}>
      {children}
    </div>
  );
}

/** What a filter asks for, in words. */
function Said({ list, column, asked, filter: f }: { list: ListName; column: ListColumn; asked: Asking; filter: ListFilter }) {
  const { t } = useTranslation();
  const words = useWords(list);
  const named = useGroups(list, others(asked, column), column.of && f.in ? column.name : "").data?.groups ?? [];
  const one = (v: string) => words.value(column, named.find((g) => g.value === v)?.name ?? v) || t("list.empty");
  const bound = (v: string) => (column.kind === "moment" ? words.value({ ...column, kind: "day" }, v) : words.value(column, v));
  const text = f.in
    ? f.in.length > 2
      ? t("list.several", { count: f.in.length })
      : f.in.map(one).join(", ")
    : f.from && f.to
      ? `${bound(f.from)} – ${bound(f.to)}`
      : f.from
        ? t("list.from", { from: bound(f.from) })
        : f.to
          ? t("list.to", { to: bound(f.to) })
          : "";
  return text ? <span className={css.said}>{text}</span> : null;
}

/** What is asked but for a column's own filter. */
const others = (asked: Asking, c: ListColumn): Asking => ({ ...asked, where: asked.where.filter((f) => f.column !== c.name) });

interface Part {
  column: ListColumn;
  filter: ListFilter;
  onChange: (f: ListFilter) => void;
}

/** From a bound on, and up to one. */
function Range({ column, filter, onChange }: Part) {
  const { t } = useTranslation();
  const set = (side: "from" | "to", value: string) => onChange({ ...filter, in: undefined, [side]: value || undefined });
  if (column.kind === "moment" || column.kind === "day") {
    return (
      <>
        <DateField label={t("list.fromDay")} value={filter.from ?? ""} onChange={(v) => set("from", v)} />
        <DateField label={t("list.toDay")} value={filter.to ?? ""} onChange={(v) => set("to", v)} />
      </>
    );
  }
  return (
    <>
      {(["from", "to"] as const).map((side) => (
        <TextField
          key={side}
          label={t(side === "from" ? "list.least" : "list.most")}
          value={filter[side] ?? ""}
          onChange={(e) => /^-?\d*\.?\d*$/.test(e.target.value) && set(side, e.target.value)}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
      ))}
    </>
  );
}

/** Some of the values that there are, with how many lines have each. */
function Values({ list, column, asked, filter, onChange }: Part & { list: ListName; asked: Asking }) {
  const { t } = useTranslation();
  const words = useWords(list);
  const groups = useGroups(list, others(asked, column), column.name).data;
  const [find, setFind] = useState("");
  const chosen = filter.in ?? [];
  const name = (v: string, called: string) => words.value(column, called) || (v ? v : t("list.empty"));
  const all = (groups?.groups ?? []).map((g) => ({ value: g.value, name: name(g.value, g.name), count: g.count }));
  const fitting = all.filter((g) => g.name.toLowerCase().includes(find.trim().toLowerCase()));
  const toggle = (v: string) => onChange({ column: column.name, in: chosen.includes(v) ? chosen.filter((x) => x !== v) : [...chosen, v] });
  return (
    <>
      {all.length > 8 && <TextField label={t("list.among")} value={find} autoFocus onChange={(e) => setFind(e.target.value)} />}
      <div className={css.values}>
        {fitting.map((g) => (
          <FormControlLabel
            key={g.value}
            control={<Checkbox checked={chosen.includes(g.value)} onChange={() => toggle(g.value)} />}
            label={
              <>
                {g.name} <span className="small quiet">{g.count}</span>
              </>
            }
          />
        ))}
      </div>
      {groups?.cut && <p className="small">{t("list.cut", { count: groups.groups.length })}</p>}
    </>
  );
}
