import { Button } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { act, get } from "../../session/api";
import { ApiError } from "../../session/session";
import type { Nearby, NearbyLine } from "../../types";
import { duration, isoDate, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LayerDrawer } from "../../ui/Layers";
import { say } from "../../words/i18n";
import { useDevice, useRecord } from "../device";

/** Work that waits and fits into what is left of today, the nearest in driving and time first. It is taken, or asked for, as the company has it. */
export default function NearbyWork({ onClose }: { onClose: () => void }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const [found, setFound] = useState<Nearby>();
  const [failed, setFailed] = useState<unknown>();
  const [done, setDone] = useState<NearbyLine>();
  const [busy, setBusy] = useState(false);
  useEffect(() => void get("/api/nearby").then(setFound, setFailed), []);
  const choose = async (line: NearbyLine) => {
    setBusy(true);
    try {
      const text = t("nearby.note", { number: line.number, site: line.site, time: time(line.start) });
      if (found?.take) await act("/api/nearby", {}, { order: line.id });
      else if (!(await record("note.to_office", { type: "timecard", id: `${me.id}+${isoDate(Date.now())}` }, { text }))) return;
      setDone(line);
    } catch (e) {
      setFailed(e);
    } finally {
      setBusy(false);
    }
  };
  return (
    <LayerDrawer anchor="bottom" onClose={onClose}>
      <div className="choices field">
        <h2>{t("nearby.title")}</h2>
        {failed !== undefined && (
          <p role="alert">
            <Tag kind="bad">{failed instanceof ApiError ? say(failed.problem) : t("nearby.offline")}</Tag>
          </p>
        )}
        {done && <p role="status">{t(found?.take ? "nearby.taken" : "nearby.asked", { site: done.site, time: time(done.start) })}</p>}
        {!done && !found && failed === undefined && <p role="status">{t("nearby.looking")}</p>}
        {!done && found?.lines.length === 0 && <p>{t("nearby.none")}</p>}
        {!done && (
          <ul className="nearby">
            {found?.lines.map((l) => (
              <li key={l.id}>
                <p>
                  <span className="strong block">{l.site}</span>
                  <span className="block">{l.problem}</span>
                  <span className="small quiet block">
                    {l.priority === "emergency" && <Tag kind="bad">{t("priority.emergency")}</Tag>}{" "}
                    {t("nearby.when", { time: time(l.start), length: duration(l.minutes * 60), drive: duration(Math.max(l.drive, 0)) })}
                  </span>
                </p>
                <Button variant="outlined" className="wide-button" disabled={busy} onClick={() => choose(l)}>
                  {t(found.take ? "nearby.take" : "nearby.ask")}
                </Button>
              </li>
            ))}
          </ul>
        )}
        {!done && found?.more ? <p className="small quiet">{t("nearby.more", { count: found.more })}</p> : null}
        <button type="button" className="link" onClick={onClose}>
          {t("photos.close")}
        </button>
      </div>
    </LayerDrawer>
  );
}
