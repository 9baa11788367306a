import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useMay } from "../session/session";
import type { TrailLine } from "../types";
import { duration, timeOrDay } from "../ui/format";
import { Failure, useCommands } from "./queries";
import { Sentence } from "./Sentence";
import { Against } from "./visit/Against";

const atOnce = 60_000;

/** Every entry in plain words: who, when, where, from which device, recorded when and arrived when. */
export function Trail({ lines, visit }: { lines: TrailLine[]; visit: string }) {
  const { t } = useTranslation();
  return (
    <section className="sec trail" aria-label={t("page.trail")}>
      <h2>
        {t("page.trail")} <span className="small quiet">{t("page.trailHint")}</span>
      </h2>
      <ol>
        {lines.map((l) => (
          <li key={l.id} className={l.struck ? "trail-struck" : undefined}>
            <span className="trail-time">{timeOrDay(l.at)}</span>
            <span>
              <span className={l.struck ? "struck" : undefined}>
                <b>{l.actor}</b> <Sentence kind={l.kind} args={l.args} />
              </span>
              {l.against && <Against against={l.against} />}
              <span className="tiny quiet block">
                {l.device === "office" ? t(l.brought ? "trail.phoned" : "trail.office", { name: l.brought }) : l.device}
                {l.brought && l.device !== "office" && ` · ${t("trail.brought", { name: l.brought })}`}
                {l.where && ` · ${t("trail.where", { lat: l.where.lat.toFixed(4), lon: l.where.lon.toFixed(4) })}`}
                {l.device !== "office" &&
                  ` · ${late(l) < atOnce ? t("trail.atOnce") : t("trail.arrived", { time: `${timeOrDay(l.received)} (${duration(late(l) / 1000)})` })}`}
              </span>
            </span>
            {l.strike && <Strike line={l} visit={visit} />}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Strikes an entry out for the office, or restores it, with a reason. */
function Strike({ line, visit }: { line: TrailLine; visit: string }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [reason, setReason] = useState<string>();
  const may = useMay(line.struck ? "entry.restored" : "entry.struck_by_office");
  const word = t(line.struck ? "trail.restore" : "trail.strike");
  if (!may || !line.strike) return null;
  if (reason === undefined) {
    return (
      <button type="button" className="link tiny trail-strike" onClick={() => setReason("")}>
        {word}
      </button>
    );
  }
  const kind = line.struck ? "entry.restored" : "entry.struck_by_office";
  const strike = line.strike;
  return (
    <form
      className="trail-why"
      onSubmit={(e) => {
        e.preventDefault();
        commands.mutate([{ kind, subject: { type: "visit", id: visit }, body: { ...strike, reason: reason.trim() } }], {
          onSuccess: () => setReason(undefined),
        });
      }}
    >
      <TextField
        size="small"
        autoFocus
        label={t("strike.why")}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 500 } }}
      />
      <Button type="submit" disabled={!reason.trim() || commands.isPending}>
        {word}
      </Button>
      <Button onClick={() => setReason(undefined)}>{t("choose.cancel")}</Button>
      <Failure error={commands.error} />
    </form>
  );
}

const late = (l: TrailLine) => Date.parse(l.received) - Date.parse(l.at);
