import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { useDraft } from "../../draft/draft";
import { TimeField } from "../../form/dates";
import type { Piece, Settings, VisitView } from "../../types";
import { moment, momentOf, time, timeOrDay } from "../../ui/format";
import { LayerDrawer } from "../../ui/Layers";
import { loadVisit, useDevice, useRecord, useReplica } from "../device";
import { endOf, endsNow } from "../finish/outcomes";
import { isUnderWay, useStops } from "../stops";
import type { Named } from "./day";
import { useWhat } from "./words";

const asked = ["complete", "return_needed"] as const;

/** How a visit that is still open can end with the day. */
const endsHere = (settings: Settings, view: VisitView | undefined) => (view ? asked.filter((a) => endsNow(settings, view).some((o) => o.id === a)) : []);

/** Ends the day. Each visit that is still open, and the clock that runs, is asked about first. */
export default function EndDay({ named, onClose }: { named: Named; onClose: () => void }) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const skew = useReplica()?.skew ?? 0;
  const say = useWhat(named);
  const stops = useStops();
  const open = stops?.filter(isUnderWay) ?? [];
  const ids = open.map((s) => s.id).join();
  const views = useLive(db, async (db) => Promise.all(ids.split(",").map((id) => loadVisit(db, id))), [ids]) ?? [];
  const viewOf = (id: string) => views.find((v) => v?.id === id) ?? undefined;
  const { day, settings } = named;
  const running = day.spans.find((s) => s.open && !open.some((o) => o.id === s.visit));
  // What was said of visits, and when the clock that runs should have been stopped: "" while it is being typed. Of another clock it says nothing.
  const draft = useDraft<{ said: Record<string, string>; stopped?: string }>(`end of ${day.date} ${running?.start ?? ""}`, { said: {} });
  const { said, stopped } = draft.value;
  const card = { type: "timecard", id: `${me.id}+${day.date}` };
  const end = async () => {
    for (const s of open) {
      const view = viewOf(s.id);
      const end = view && endsNow(settings, view).find((o) => o.id === said[s.id]);
      const reason = end?.id === "return_needed" ? settings.visits.returns?.[0]?.id : undefined;
      if (end && !(await record("visit.finished", s.id, endOf(end, view, { reason })))) return;
    }
    if (running?.kind === "indirect" && !(await record("time.stopped", card, {}))) return;
    if (running && stopped && !(await stopEarlier(running.start, stopped))) return;
    if (!(await record("day.ended", card, {}))) return;
    draft.clear();
    onClose();
  };
  // What ran on after that was the person's own time.
  const stopEarlier = (start: string, hm: string) => {
    const from = momentOf(day.date, hm).getTime();
    const pieces: Piece[] = [{ kind: "off", start: from < Date.parse(start) ? start : moment(from), end: moment(Date.now() + skew) }];
    return record("time.corrected", card, { pieces, reason: t("fix.reason.forgot") });
  };
  return (
    <LayerDrawer anchor="bottom" onClose={onClose}>
      <div className="choices field">
        <h2>{t("day.end")}</h2>
        {open.map((s) => (
          <fieldset key={s.id} className="end-visit">
            <legend>
              <span className="strong block">{s.site?.name}</span>
              <span className="small quiet">{t("day.stillOpen", { stage: t(`stage.${s.standing.stage}`), time: timeOrDay(s.standing.since) })}</span>
            </legend>
            <div className="options">
              {[...endsHere(settings, viewOf(s.id)), "leave" as const].map((a) => (
                <button key={a} type="button" aria-pressed={said[s.id] === a} onClick={() => draft.change({ said: { ...said, [s.id]: a } })}>
                  {t(a === "leave" ? "day.leave" : `outcome.${a}`)}
                </button>
              ))}
            </div>
          </fieldset>
        ))}
        {running && (
          <fieldset className="end-visit">
            <legend>{t("day.clockRuns", { what: say(running).kind, time: time(running.start) })}</legend>
            <div className="options">
              <button type="button" aria-pressed={stopped === undefined} onClick={() => draft.change({ stopped: undefined })}>
                {t("day.stopNow")}
              </button>
              <button type="button" aria-pressed={stopped !== undefined} onClick={() => draft.change({ stopped: time(Date.now()) })}>
                {t("day.stopEarlier")}
              </button>
            </div>
            {stopped !== undefined && (
              <div className="end-time">
                <TimeField label={t("day.stoppedAt")} value={stopped} onChange={(stopped) => draft.change({ stopped })} />
              </div>
            )}
          </fieldset>
        )}
        {day.gaps.length > 0 && <p className="small quiet">{t("day.gaps", { count: day.gaps.length })}</p>}
        <Button variant="contained" className="wide-button" disabled={!stops || stopped === "" || open.some((s) => !said[s.id])} onClick={end}>
          {t("day.endNow")}
        </Button>
        <button type="button" className="link" onClick={onClose}>
          {t("choose.cancel")}
        </button>
      </div>
    </LayerDrawer>
  );
}
