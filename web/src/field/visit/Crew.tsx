import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import type { VisitView } from "../../types";
import { duration, time } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LayerDrawer } from "../../ui/Layers";
import { useDevice, useRecord } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

/** Who comes along. The one who leads clocks them on and off. */
export function Crew({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const record = useRecord();
  const [adding, setAdding] = useState(false);
  const { visit } = view;
  if (visit.technician !== me.id) return null;
  const helpers = visit.helpers ?? [];
  const asked = [...new Set((visit.crew ?? []).filter((s) => s.asked && !s.struck && !helpers.includes(s.helper)).map((s) => s.helper))];
  const over = visit.stage === "finished" || visit.stage === "withdrawn";
  const clock = (helper: string, on: boolean) => record("crew.clocked", view.id, { helper, clock: on ? "work" : "stop" });
  return (
    <VisitSection
      id="crew"
      title={t("visit.crew")}
      end={
        <button type="button" className="link" onClick={() => setAdding(true)}>
          {t("crew.add")}
        </button>
      }
    >
      {helpers.length + asked.length === 0 && <p className="quiet small">{t("crew.alone")}</p>}
      {[...helpers, ...asked].map((h) => {
        const last = visit.crew?.findLast((s) => s.helper === h && !s.struck);
        const on = last !== undefined && last.clock !== "stop";
        const hours = view.crew.find((c) => c.person === h)?.hours;
        return (
          <div className="line" key={h}>
            <span className="grow">
              {view.names[h] ?? h}
              {asked.includes(h) && <Tag kind="warn">{t("crew.asked")}</Tag>}
              <span className="small quiet block">
                {on ? t("crew.since", { time: time(last.at) }) : last ? t("crew.until", { time: time(last.at) }) : t("crew.notYet")}
                {hours && hours.work > 59 && ` · ${duration(hours.work)}`}
              </span>
            </span>
            {last && <StrikeOut view={view} line={last} kind="crew.clocked" />}
            {(on || !over) && (
              <button
                type="button"
                className="answer"
                onClick={() => clock(h, !on)}
                aria-label={t(on ? "crew.offNamed" : "crew.onNamed", { name: view.names[h] ?? h })}
              >
                {t(on ? "crew.off" : "crew.on")}
              </button>
            )}
          </div>
        );
      })}
      {adding && (
        <PickHelper
          not={[me.id, ...helpers, ...asked]}
          onPick={(h) => {
            setAdding(false);
            void clock(h, true);
          }}
          onClose={() => setAdding(false)}
        />
      )}
    </VisitSection>
  );
}

function PickHelper({ not, onPick, onClose }: { not: string[]; onPick: (person: string) => void; onClose: () => void }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const people = useLive(db, (db) => db.all("person"), []) ?? [];
  const found = people.filter((p) => p.body.roles.includes("technician") && !not.includes(p.id)).sort((a, b) => a.body.name.localeCompare(b.body.name));
  return (
    <LayerDrawer anchor="bottom" onClose={onClose}>
      <div className="choices field tall">
        <h2>{t("crew.who")}</h2>
        <ul className="scroll">
          {found.map((p) => (
            <li key={p.id}>
              <button type="button" className="choice" onClick={() => onPick(p.id)}>
                <span className="strong">{p.body.name}</span>
              </button>
            </li>
          ))}
        </ul>
        <button type="button" className="link" onClick={onClose}>
          {t("choose.cancel")}
        </button>
      </div>
    </LayerDrawer>
  );
}
