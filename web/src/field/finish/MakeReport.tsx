import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Layout, File as VisitFile, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { Tag } from "../../ui/Glyph";
import { MarkedPhoto } from "../../ui/MarkedPhoto";
import { say } from "../../words/i18n";
import { problemOf, useSettings } from "../device";
import { useAddress, useStored } from "../visit/PhotoTile";
import { useMakeReport } from "./useMakeReport";

export const layouts: Layout[] = ["full", "short", "photos"];

/** What the report shows: its layout, and which photos. */
export default function MakeReport({ view, onClose }: { view: VisitView; onClose: () => void }) {
  const { t } = useTranslation();
  const settings = useSettings();
  const make = useMakeReport(view);
  const photos = (view.visit.files ?? []).filter((f) => !f.struck && /^image\/(jpeg|png)$/.test(f.print?.type ?? f.type));
  const [layout, setLayout] = useState<Layout>();
  const [left, setLeft] = useState<string[]>([]);
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState("");
  const chosen = layout ?? (settings?.reports.layout as Layout | undefined) ?? "full";
  const done = async () => {
    setBusy(true);
    setWrong("");
    try {
      const entry = await make(
        chosen,
        photos.flatMap((f) => (left.includes(f.entry) ? [] : [f.entry])),
      );
      if (entry) return onClose();
    } catch (e) {
      setWrong(say(problemOf(e)));
    }
    setBusy(false);
  };
  return (
    <ChoiceDrawer title={t("report.make")} tall onClose={onClose}>
      <div className="scroll form-stack">
        <div className="options">
          {layouts.map((l) => (
            <button type="button" key={l} aria-pressed={chosen === l} onClick={() => setLayout(l)}>
              {t(`layout.${l}`)}
            </button>
          ))}
        </div>
        <p className="small quiet">{t(`layoutHint.${chosen}`)}</p>
        {photos.length > 0 && <p className="small">{t("report.photos", { count: photos.length - left.length, of: photos.length })}</p>}
        <ul className="photos">
          {photos.map((f) => (
            <li key={f.entry}>
              <Choice
                file={f}
                on={!left.includes(f.entry)}
                onTurn={() => setLeft(left.includes(f.entry) ? left.filter((x) => x !== f.entry) : [...left, f.entry])}
              />
            </li>
          ))}
        </ul>
        {view.visit.stage !== "finished" && <Tag kind="warn">{t("report.early")}</Tag>}
        {view.changed && <Tag kind="warn">{t("sign.changed")}</Tag>}
      </div>
      <p role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</p>
      <Button variant="contained" onClick={done} disabled={busy}>
        {t(busy ? "report.busy" : "report.do")}
      </Button>
    </ChoiceDrawer>
  );
}

function Choice({ file, on, onTurn }: { file: VisitFile; on: boolean; onTurn: () => void }) {
  const { t } = useTranslation();
  const address = useAddress(useStored(file.hash), file.hash, true);
  return (
    <button
      type="button"
      className={`photo${on ? "" : " left-out"}`}
      aria-pressed={on}
      aria-label={t("report.photo", { name: file.caption || file.name })}
      onClick={onTurn}
    >
      <MarkedPhoto marks={file.marks} src={address} alt="" />
    </button>
  );
}
