import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import { MapView } from "../../map/MapView";
import { useHas } from "../../session/session";
import type { MapArea, MapPoint, Settings } from "../../types";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { placed, readPlace, written } from "../place/position";
import { Answer, useSettings } from "../queries";
import { withCorner } from "./areaLine";
import css from "./RuleLines.module.css";
import { SaveRules } from "./SaveRules";
import { useRules } from "./useRules";

/** The parts of the map that people work in, drawn on it. */
export default function AreaRules() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <PageHead title={t("areas.title")} hint={t("areas.hint")} />
      <Answer query={useSettings()}>{(settings) => <Shown settings={settings} />}</Answer>
    </main>
  );
}

function Shown({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const rules = useRules("areas", settings);
  const areas = rules.now("planning", "areas") ?? [];
  const [chosen, choose] = useState<string>();
  const area = areas.find((a) => a.id === chosen) ?? areas[0];
  const set = (to: MapArea[]) => rules.set("planning", "areas", to.length > 0 ? to : undefined);
  const change = (to: MapArea) => set(areas.map((a) => (a.id === to.id ? to : a)));
  const add = () => {
    const id = ulid().toLowerCase();
    set([...areas, { id, name: "", line: [] }]);
    choose(id);
  };
  const wrong = areas.some((a) => !a.name.trim() || a.line.length < 3);
  return (
    <>
      <section className={`sec ${css.areas}`} aria-label={t("areas.title")}>
        <div>
          {areas.length === 0 && <p className="quiet">{t("areas.none")}</p>}
          <ul className={css.list}>
            {areas.map((a) => (
              <li key={a.id}>
                <button type="button" className="link" aria-pressed={a === area} onClick={() => choose(a.id)}>
                  {a.name || t("areas.unnamed")}
                </button>{" "}
                {a.line.length < 3 && <Tag kind="warn">{t("areas.corners")}</Tag>}
              </li>
            ))}
          </ul>
          {may && <Button onClick={add}>{t("areas.add")}</Button>}
          {area && <Corners key={area.id} area={area} may={may} onChange={change} onDrop={() => set(areas.filter((a) => a !== area))} />}
        </div>
        <MapView
          label={t("areas.map")}
          spots={area && may ? area.line.map((at, i) => ({ id: String(i), at, label: String(i + 1), name: t("areas.corner", { n: i + 1 }) })) : []}
          ways={areas.filter((a) => a.line.length > 1).map((a) => ({ id: a.id, line: [...a.line, a.line[0]], thin: a !== area, dim: a !== area }))}
          onPlace={area && may ? (p) => change({ ...area, line: withCorner(area.line, placed(p)) }) : undefined}
          onMove={area && may ? (id, p) => change({ ...area, line: area.line.with(Number(id), placed(p)) }) : undefined}
          high
          nothing={<p className="quiet">{t("areas.noMap")}</p>}
        />
      </section>
      <SaveRules rules={rules} wrong={wrong} />
    </>
  );
}

interface CornersProps {
  area: MapArea;
  may: boolean;
  onChange: (to: MapArea) => void;
  onDrop: () => void;
}

/** An area's name and its corners, as text too: for whoever does not press on a map. */
function Corners({ area, may, onChange, onDrop }: CornersProps) {
  const { t } = useTranslation();
  const [typed, setTyped] = useState("");
  const at = readPlace(typed);
  const put = (p: MapPoint) => {
    onChange({ ...area, line: withCorner(area.line, placed(p)) });
    setTyped("");
  };
  return (
    <fieldset className="bare" disabled={!may}>
      <TextField
        label={t("areas.name")}
        value={area.name}
        margin="normal"
        fullWidth
        onChange={(e) => onChange({ ...area, name: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
      />
      <p className="small quiet">{t("areas.press")}</p>
      <ol className="small">
        {area.line.map((p, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: corners have nothing else that tells them apart
          <li key={i}>
            {written(p)}{" "}
            {may && (
              <button
                type="button"
                className="link"
                aria-label={t("areas.dropCorner", { n: i + 1 })}
                onClick={() => onChange({ ...area, line: area.line.toSpliced(i, 1) })}
              >
                {t("parts.drop")}
              </button>
            )}
          </li>
        ))}
      </ol>
      {may && (
        <div className={css.corner}>
          <TextField label={t("areas.degrees")} value={typed} error={typed.trim() !== "" && !at} onChange={(e) => setTyped(e.target.value)} />
          <Button disabled={!at} onClick={() => at && put(at)}>
            {t("areas.addCorner")}
          </Button>
        </div>
      )}
      {may && (
        <button type="button" className="link" onClick={onDrop}>
          {t("areas.drop")}
        </button>
      )}
    </fieldset>
  );
}
