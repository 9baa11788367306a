import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMapSource } from "../../map/source";
import { useHas } from "../../session/session";
import type { Busy, Settings } from "../../types";
import { shortDate, weekday } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { PinMap } from "../place/PinMap";
import { Answer, useQuestion, useSettings } from "../queries";
import css from "./RuleLines.module.css";
import { SaveRules } from "./SaveRules";
import { useRules } from "./useRules";

/** The region that the firm brought, where its yard is, and when roads are not free. */
export default function RoadRules() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <PageHead title={t("roadRules.title")} hint={t("roadRules.hint")} />
      <Answer query={useSettings()}>{(settings) => <Shown settings={settings} />}</Answer>
    </main>
  );
}

function Shown({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const rules = useRules("rules of roads", settings);
  const region = useMapSource()?.about;
  const yard = rules.now("road", "yard");
  const busy = rules.now("road", "busy") ?? [];
  const setBusy = (to: Busy[]) => rules.set("road", "busy", to);
  const wrong = busy.some((b) => b.days.length === 0 || b.from >= b.to || !(b.percent >= 50 && b.percent <= 400));
  return (
    <>
      <section className="sec" aria-label={t("roadRules.region")}>
        <h2>{t("roadRules.region")}</h2>
        {region?.rev ? (
          <p>
            {t("roadRules.brought", { day: shortDate(region.at) })} <span className="quiet">{region.source}</span>
          </p>
        ) : (
          <p>
            <Tag kind="warn">{t("roadRules.none")}</Tag> {t("roadRules.how")}
          </p>
        )}
        <p className="small">
          <Link to={`/office/lists/sites?where=${encodeURIComponent(JSON.stringify([{ column: "placed", in: ["0"] }]))}`}>{t("roadRules.unplaced")}</Link>
        </p>
      </section>
      <section className="sec" aria-label={t("roadRules.yard")}>
        <h2>{t("roadRules.yard")}</h2>
        <p className="small quiet">{t("roadRules.yardHint")}</p>
        <PinMap name={t("roadRules.yard")} at={yard} onPlace={may ? (p) => rules.set("road", "yard", p) : undefined} />
      </section>
      <section className="sec" aria-label={t("roadRules.busy")}>
        <h2>{t("roadRules.busy")}</h2>
        <p className="small quiet">{t("roadRules.busyHint")}</p>
        {busy.map((b, i) => (
          <BusyLine
            // biome-ignore lint/suspicious/noArrayIndexKey: lines have nothing else that tells them apart
            key={i}
            line={b}
            may={may}
            onChange={(to) => setBusy(to ? busy.with(i, to) : busy.toSpliced(i, 1))}
          />
        ))}
        {busy.length === 0 && <p className="quiet">{t("roadRules.free")}</p>}
        {may && <Driven onTake={(lines) => setBusy([...busy, ...lines])} />}
        {may && <Button onClick={() => setBusy([...busy, { days: [1, 2, 3, 4, 5], from: 7, to: 9, percent: 130 }])}>{t("roadRules.add")}</Button>}
      </section>
      <SaveRules rules={rules} wrong={wrong} />
    </>
  );
}

/** From so many per cent off on, an hour is not as on free roads. */
const notFree = 10;

/** What the drives of the last weeks took, hour by hour, to be taken over. */
function Driven({ onTake }: { onTake: (lines: Busy[]) => void }) {
  const { t } = useTranslation();
  const learned = useQuestion("/api/office/drives", {}).data?.filter((l) => Math.abs(l.percent - 100) >= notFree) ?? [];
  if (learned.length === 0) return null;
  return (
    <div className={css.driven}>
      <p className="small">{t("roadRules.driven")}</p>
      <ul className="small">
        {learned.map((l) => (
          <li key={`${l.days} ${l.from}`}>
            {t("roadRules.drivenLine", { days: l.days.map(dayName).join(", "), from: l.from, to: l.to, percent: l.percent, count: l.count })}
          </li>
        ))}
      </ul>
      <Button onClick={() => onTake(learned.map(({ count: _, ...line }) => line))}>{t("roadRules.take")}</Button>
    </div>
  );
}

/** A day of the week as it is called: 4 January 1970 was a Sunday. */
const dayName = (d: number) => weekday(Date.UTC(1970, 0, 4 + d, 12));

const week = [1, 2, 3, 4, 5, 6, 0];

interface LineProps {
  line: Busy;
  may: boolean;
  /** with nothing: it goes */
  onChange: (to?: Busy) => void;
}

function BusyLine({ line, may, onChange }: LineProps) {
  const { t } = useTranslation();
  const hour = (field: "from" | "to") => (
    <TextField
      type="number"
      label={t(`roadRules.${field}`)}
      value={line[field]}
      disabled={!may}
      error={line.from >= line.to}
      onChange={(e) => onChange({ ...line, [field]: Math.min(24, Math.max(0, Math.round(Number(e.target.value)))) })}
      slotProps={{ htmlInput: { min: 0, max: 24 } }}
    />
  );
  return (
    <div className={css.line}>
      <TextField
        select
        label={t("roadRules.days")}
        value={line.days}
        disabled={!may}
        error={line.days.length === 0}
        onChange={(e) => onChange({ ...line, days: (e.target.value as unknown as number[]).toSorted((a, b) => a - b) })}
        slotProps={{
          select: {
            multiple: true,
            renderValue: (v) =>
              week
                .filter((d) => (v as number[]).includes(d))
                .map(dayName)
                .join(", "),
          },
        }}
      >
        {week.map((d) => (
          <MenuItem key={d} value={d}>
            {dayName(d)}
          </MenuItem>
        ))}
      </TextField>
      {hour("from")}
      {hour("to")}
      <TextField
        type="number"
        label={t("roadRules.percent")}
        value={line.percent}
        disabled={!may}
        error={!(line.percent >= 50 && line.percent <= 400)}
        onChange={(e) => onChange({ ...line, percent: Math.round(Number(e.target.value)) })}
        slotProps={{ htmlInput: { min: 50, max: 400 } }}
      />
      {may && (
        <button type="button" className="link" onClick={() => onChange()}>
          {t("roadRules.drop")}
        </button>
      )}
    </div>
  );
}
