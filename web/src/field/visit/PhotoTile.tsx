import { useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import type { StoredFile } from "../../device/tables";
import type { File as VisitFile } from "../../types";
import { Mark } from "../../ui/Glyph";
import { MarkedPhoto } from "../../ui/MarkedPhoto";
import { useDevice } from "../device";

/** What this device has of a file: undefined while it looks, null when it has nothing. */
export function useStored(hash: string): StoredFile | null | undefined {
  const { db } = useDevice();
  return useLive(db, async (db) => (await db.files.get(hash)) ?? null, [hash]);
}

/** An address for a blob, or for the office's copy when this device has none. */
export function useAddress(stored: StoredFile | null | undefined, hash: string, small: boolean): string | undefined {
  const blob = small ? stored?.thumb : stored?.blob;
  const local = useMemo(() => (blob ? URL.createObjectURL(blob) : undefined), [blob]);
  useEffect(() => () => (local ? URL.revokeObjectURL(local) : undefined), [local]);
  if (local || stored === undefined) return local;
  return `/api/files/${hash}${small ? "?thumb" : ""}`;
}

/** A small photo, and where it is. */
export function Tile({ file, onOpen }: { file: VisitFile; onOpen: () => void }) {
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
        <MarkedPhoto marks={file.marks} src={address} alt="" onError={() => setMissing(true)} onLoad={() => setMissing(false)} />
      ) : (
        <span className="photo-paper small">{file.name}</span>
      )}
      {file.moment && <span className="photo-moment tiny">{t(`moment.${file.moment as "before"}`)}</span>}
      <span className="photo-state" title={t(`photos.${state}`)}>
        <Mark kind={state === "here" ? "good" : state === "refused" ? "bad" : "wait"} />
      </span>
    </button>
  );
}
