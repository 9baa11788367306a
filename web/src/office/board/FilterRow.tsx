import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useSettings } from "../queries";
import type { Filters } from "./filters";

/** What is counted of a board. */
interface Counted {
  people: unknown[];
  unplaced: unknown[];
}

interface Props {
  board: Counted;
  /** what the filters leave of it */
  shown: Counted;
  filters: Filters;
  onChange: (change: Filters) => void;
}

const stages = ["planned", "sent", "accepted", "declined", "travelling", "on_site", "paused", "finished"] as const;
const orders = ["name", "team", "area"] as const;

/** Whom and what the board shows, in one row; it says what that leaves out. */
export function FilterRow({ board, shown, filters, onChange }: Props) {
  const { t } = useTranslation();
  const settings = useSettings().data;
  const planning = settings?.planning;
  const areas = planning?.areas?.map((a) => ({ id: a.id, text: a.name }));
  const select = (name: keyof Filters, all: string, choices: { id: string; text: string }[] | undefined) =>
    choices?.length ? (
      <TextField
        select
        size="small"
        label={t(`filter.${name as "team"}`)}
        value={filters[name] ?? ""}
        onChange={(e) => onChange({ [name]: e.target.value || undefined })}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">{all}</MenuItem>
        {choices.map((c) => (
          <MenuItem key={c.id} value={c.id}>
            {c.text}
          </MenuItem>
        ))}
      </TextField>
    ) : null;
  const words = (name: "person" | "customer") => (
    <TextField
      size="small"
      label={t(`filter.${name}`)}
      value={filters[name] ?? ""}
      onChange={(e) => onChange({ [name]: e.target.value || undefined })}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { placeholder: t("filter.anyone"), autoComplete: "off", maxLength: 80 } }}
    />
  );
  const hidden = board.people.length - shown.people.length + board.unplaced.length - shown.unplaced.length;
  return (
    <fieldset className="filters" aria-label={t("filter.title")}>
      {words("person")}
      {select("team", t("filter.all"), planning?.teams)}
      {select("area", t("filter.all"), areas)}
      {select("skill", t("filter.all"), settings?.orders.skills)}
      {select("kind", t("filter.all"), settings?.orders.works)}
      {select(
        "stage",
        t("filter.all"),
        stages.map((s) => ({ id: s, text: t(`stage.${s}`) })),
      )}
      {words("customer")}
      {select(
        "order",
        t("filter.byName"),
        orders.slice(1).map((o) => ({ id: o, text: t(`filter.by.${o as "team"}`) })),
      )}
      {Object.keys(filters).length > 0 && (
        <span className="small">
          {hidden > 0 && t("filter.hidden", { people: board.people.length - shown.people.length, waits: board.unplaced.length - shown.unplaced.length })}{" "}
          <button type="button" className="link" onClick={() => onChange(Object.fromEntries(Object.keys(filters).map((k) => [k, undefined])))}>
            {t("filter.clear")}
          </button>
        </span>
      )}
    </fieldset>
  );
}
