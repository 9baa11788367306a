import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { useMapSource } from "../../map/source";
import { useHas } from "../../session/session";
import type { Busy, MapPoint, Settings } from "../../types";
import { shortDate, weekday } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { PinMap } from "../place/PinMap";
import { Answer, Failure, useCommands, useQuestion, useSettings } from "../queries";
import { changed, changeOf } from "../settings";
import css from "./RuleLines.module.css";

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

type Typed = { yard?: MapPoint; busy?: Busy[] };

function Shown({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const commands = useCommands({ form: true });
  const region = useMapSource()?.about;
  // seen: what stood there when it was first changed
  const draft = useDraft<{ typed: Typed; seen: Typed }>("road rules", { typed: {}, seen: {} });
  const { typed, seen } = draft.value;
  const { road } = settings;
  const set = <F extends keyof Typed>(field: F, to: Typed[F]) => draft.change({ typed: { ...typed, [field]: to }, seen: { [field]: road[field], ...seen } });
  const yard = typed.yard ?? road.yard;
  const busy = typed.busy ?? road.busy ?? [];
  const any = typed.yard !== undefined || typed.busy !== undefined;
  const wrong = busy.some((b) => b.days.length === 0 || b.from >= b.to || !(b.percent >= 50 && b.percent <= 400));
  const save = () => commands.mutate([changeOf(changed(settings, { road: { ...road, ...seen } }), { road: { ...typed } })], { onSuccess: draft.clear });
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
        <PinMap name={t("roadRules.yard")} at={yard} onPlace={may ? (p) => set("yard", p) : undefined} />
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
            onChange={(to) => set("busy", to ? busy.with(i, to) : busy.toSpliced(i, 1))}
          />
        ))}
        {busy.length === 0 && <p className="quiet">{t("roadRules.free")}</p>}
        {may && <Driven onTake={(lines) => set("busy", [...busy, ...lines])} />}
        {may && <Button onClick={() => set("busy", [...busy, { days: [1, 2, 3, 4, 5], from: 7, to: 9, percent: 130 }])}>{t("roadRules.add")}</Button>}
      </section>
      {may ? (
        <div className="line">
          <Button variant="contained" disabled={!any || wrong || commands.isPending} onClick={save}>
            {t("rules.save")}
          </Button>
          {any && <ThrowAway draft={draft} />}
          <span role="status">{commands.isSuccess && !any && <Tag kind="good">{t("records.saved")}</Tag>}</span>
          <Failure error={commands.error} />
        </div>
      ) : (
        <p className="quiet">{t("rules.administrator")}</p>
      )}
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
