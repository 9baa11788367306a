import { Button, Dialog, TextField } from "@mui/material";
import { useLiveQuery } from "dexie-react-hooks";
import { type ChangeEvent, useEffect, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { StoredFile } from "../../device/db";
import { paperTypes, photoTypes, prepare, refOf } from "../../device/files";
import type { File as VisitFile, VisitView } from "../../types";
import { bytes, timeOrDay } from "../../ui/format";
import { Mark } from "../../ui/Glyph";
import { say } from "../../words/i18n";
import { problemOf, useDevice, useRecord } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

/** Photos and documents of the visit: taken or picked, kept on this device at once, sent by themselves. */
export function Photos({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState<string>();
  const files = view.visit.files ?? [];
  const shown = files.find((f) => f.entry === open);
  return (
    <VisitSection id="photos" title={t("visit.photos")} end={files.length > 0 ? String(files.length) : undefined}>
      {files.length === 0 && <p className="quiet small">{t("photos.none")}</p>}
      <ul className="photos">
        {files.map((f) => (
          <li key={f.entry}>
            <Tile file={f} onOpen={() => setOpen(f.entry)} />
          </li>
        ))}
      </ul>
      <Add visit={view.id} />
      {shown && <Large view={view} file={shown} onClose={() => setOpen(undefined)} />}
    </VisitSection>
  );
}

function Add({ visit }: { visit: string }) {
  const { t } = useTranslation();
  const { tell } = useDevice();
  const record = useRecord();
  const [busy, setBusy] = useState(0);
  const [caption, setCaption] = useState("");
  const camera = useRef<HTMLInputElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const take = async (e: ChangeEvent<HTMLInputElement>) => {
    const picked = [...(e.target.files ?? [])];
    e.target.value = "";
    setBusy((n) => n + picked.length);
    for (const p of picked) {
      try {
        const file = await prepare(p);
        await record("file.attached", visit, { ...refOf(file), caption: caption.trim() }, { file: { ...file, visit } });
      } catch (problem) {
        tell(say(problemOf(problem)));
      }
      setBusy((n) => n - 1);
    }
    setCaption("");
  };
  return (
    <div className="photos-add">
      <TextField label={t("photos.caption")} value={caption} onChange={(e) => setCaption(e.target.value)} slotProps={{ htmlInput: { maxLength: 500 } }} />
      <Button variant="outlined" onClick={() => camera.current?.click()}>
        {t("photos.take")}
      </Button>
      <Button variant="outlined" onClick={() => picker.current?.click()}>
        {t("photos.pick")}
      </Button>
      <input ref={camera} hidden type="file" accept={photoTypes} capture="environment" onChange={take} aria-label={t("photos.take")} />
      <input ref={picker} hidden type="file" accept={paperTypes} multiple onChange={take} aria-label={t("photos.pick")} />
      {busy > 0 && (
        <p className="small quiet" role="status">
          {t("photos.preparing", { count: busy })}
        </p>
      )}
    </div>
  );
}

/** What this device has of a file: undefined while it looks, null when it has nothing. */
function useStored(hash: string): StoredFile | null | undefined {
  const { db } = useDevice();
  return useLiveQuery(async () => (await db.files.get(hash)) ?? null, [db, hash]);
}

/** An address for a blob, or for the office's copy when this device has none. */
function useAddress(stored: StoredFile | null | undefined, hash: string, small: boolean): string | undefined {
  const blob = small ? stored?.thumb : stored?.blob;
  const local = useMemo(() => (blob ? URL.createObjectURL(blob) : undefined), [blob]);
  useEffect(() => () => (local ? URL.revokeObjectURL(local) : undefined), [local]);
  if (local || stored === undefined) return local;
  return `/api/files/${hash}${small ? "?thumb" : ""}`;
}

function Tile({ file, onOpen }: { file: VisitFile; onOpen: () => void }) {
  const { t } = useTranslation();
  const stored = useStored(file.hash);
  const address = useAddress(stored, file.hash, true);
  const [missing, setMissing] = useState(false);
  // Somebody else's photo may still be on its way to the office: it is asked for again.
  useEffect(() => {
    if (!missing) return;
    const timer = setTimeout(() => setMissing(false), 20_000);
    return () => clearTimeout(timer);
  }, [missing]);
  const state = stored?.state === "waiting" ? "waits" : stored?.state === "refused" ? "refused" : stored || !missing ? "here" : "away";
  return (
    <button
      type="button"
      className={`photo${file.struck ? " struck-photo" : ""}`}
      onClick={onOpen}
      aria-label={t("photos.open", { name: file.caption || file.name })}
    >
      {file.type.startsWith("image/") && !missing ? (
        <img src={address} alt="" onError={() => setMissing(true)} onLoad={() => setMissing(false)} />
      ) : (
        <span className="photo-paper small">{file.name}</span>
      )}
      <span className="photo-state" title={t(`photos.${state}`)}>
        <Mark kind={state === "here" ? "good" : state === "refused" ? "bad" : "wait"} />
      </span>
    </button>
  );
}

function Large({ view, file, onClose }: { view: VisitView; file: VisitFile; onClose: () => void }) {
  const { t } = useTranslation();
  const stored = useStored(file.hash);
  const address = useAddress(stored, file.hash, false);
  const state = stored?.state === "waiting" ? "waits" : stored?.state === "refused" ? "refused" : "here";
  return (
    <Dialog open fullScreen onClose={onClose} aria-label={file.name}>
      <div className="photo-large field">
        {file.type.startsWith("image/") ? (
          <img src={address} alt={file.caption || file.name} />
        ) : (
          <a className="link" href={address} target="_blank" rel="noreferrer">
            {t("photos.open", { name: file.name })}
          </a>
        )}
        <p className={file.struck ? "struck" : undefined}>{file.caption || file.name}</p>
        <p className="small quiet">
          {t("photos.by", { name: view.names[file.person] ?? file.person, time: timeOrDay(file.at) })} · {bytes(file.size)} · {t(`photos.${state}`)}
        </p>
        <div className="photo-actions">
          <StrikeOut view={view} entry={file.entry} at={file.at} kind="file.attached" person={file.person} struck={file.struck} />
          <Button variant="contained" onClick={onClose}>
            {t("photos.close")}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
