import { Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { duration } from "../../ui/format";
import { LayerDrawer } from "../../ui/Layers";
import { screen } from "../../ui/screen";
import { useDevice, useRecord } from "../device";
import type { Named } from "./day";
import { useWhat } from "./words";

const EndDay = screen(() => import("./EndDay"));

/** Begins and ends the day, and clocks work that is for no visit. */
export function DayActions({ named, now }: { named: Named; now: number }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const say = useWhat(named);
  const [picking, setPicking] = useState(false);
  const [ending, setEnding] = useState(false);
  const { day, settings } = named;
  const card = { type: "timecard", id: `${me.id}+${day.date}` };
  const running = day.spans.find((s) => s.open);
  const over = day.ended && !running;
  return (
    <div className="day-actions">
      {running?.kind === "indirect" && (
        <button type="button" className="answer wide" onClick={() => record("time.stopped", card, {})}>
          {t("day.stop", { what: say(running).kind, time: duration((now - Date.parse(running.start)) / 1000) })}
        </button>
      )}
      {!day.began && !over && (
        <button type="button" className="answer" onClick={() => record("day.started", card, { home: !!me.person.home })}>
          {t("day.start")}
        </button>
      )}
      {over && (
        <button type="button" className="answer" onClick={() => record("day.started", card, { home: !!me.person.home })}>
          {t("day.startAgain")}
        </button>
      )}
      <button type="button" className="answer" onClick={() => setPicking(true)}>
        {t("day.other")}
      </button>
      {!over && (day.began || day.spans.length > 0) && (
        <button type="button" className="answer" onClick={() => setEnding(true)}>
          {t("day.end")}
        </button>
      )}
      {picking && (
        <LayerDrawer anchor="bottom" onClose={() => setPicking(false)}>
          <div className="choices field">
            <h2>{t("day.otherTitle")}</h2>
            <ul>
              {(settings.time.indirect ?? []).map((c) => (
                <li key={c.id}>
                  <button
                    type="button"
                    className="choice"
                    onClick={() => {
                      setPicking(false);
                      void record("time.started", card, { code: c.id });
                    }}
                  >
                    <span className="strong">{c.text}</span>
                  </button>
                </li>
              ))}
            </ul>
            <button type="button" className="link" onClick={() => setPicking(false)}>
              {t("choose.cancel")}
            </button>
          </div>
        </LayerDrawer>
      )}
      {ending && (
        <Suspense fallback={null}>
          <EndDay named={named} onClose={() => setEnding(false)} />
        </Suspense>
      )}
    </div>
  );
}
