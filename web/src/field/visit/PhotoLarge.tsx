import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { File as VisitFile, VisitView } from "../../types";
import { bytes, timeOrDay } from "../../ui/format";
import { LayerDialog } from "../../ui/Layers";
import { MarkedPhoto } from "../../ui/MarkedPhoto";
import MarkUp from "./MarkUp";
import { useAddress, useStored } from "./PhotoTile";
import { StrikeOut } from "./StrikeOut";

/** A photo as large as it goes, with what is said of it; and to draw on. */
export default function Large({ view, file, onClose }: { view: VisitView; file: VisitFile; onClose: () => void }) {
  const { t } = useTranslation();
  const stored = useStored(file.hash);
  const [drawing, setDrawing] = useState(false);
  const photo = file.type.startsWith("image/");
  const address = useAddress(stored, file.hash, false);
  const state = stored?.state === "waiting" ? "waits" : stored?.state === "refused" ? "refused" : "here";
  return (
    <LayerDialog fullScreen onClose={onClose} slotProps={{ paper: { "aria-label": file.name } }}>
      <div className="photo-large field">
        {photo ? (
          <MarkedPhoto marks={file.marks} src={address} alt={file.caption || file.name} />
        ) : (
          <a className="link" href={address} target="_blank" rel="noreferrer">
            {t("photos.open", { name: file.name })}
          </a>
        )}
        <p className={file.struck ? "struck" : undefined}>
          {file.moment && <b>{t(`moment.${file.moment as "before"}`)} · </b>}
          {file.caption || file.name}
        </p>
        <p className="small quiet">
          {t("photos.by", { name: view.names[file.person] ?? file.person, time: timeOrDay(file.at) })} · {bytes(file.size)} · {t(`photos.${state}`)}
        </p>
        <div className="photo-actions">
          {photo && !file.struck && !view.visit.reviewedAt && (
            <Button variant="outlined" onClick={() => setDrawing(true)}>
              {t("marks.open")}
            </Button>
          )}
          <StrikeOut view={view} line={file} kind="file.attached" />
          <Button variant="contained" onClick={onClose}>
            {t("photos.close")}
          </Button>
        </div>
      </div>
      {drawing && <MarkUp visit={view.id} file={file} address={address} onClose={() => setDrawing(false)} />}
    </LayerDialog>
  );
}
