/** Photos: of the visit, of a question, of a meter. Taken or picked, kept on this device at once, sent by themselves. */
import { Button } from "@mui/material";
import { type ChangeEvent, lazy, Suspense, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { blank, paperTypes, photoTypes } from "../../device/files";
import { useLive } from "../../device/live";
import { keepPicked } from "../../device/picked";
import type { About, VisitView } from "../../types";
import { say } from "../../words/i18n";
import { useAttach } from "../attach";
import { problemOf, useDevice } from "../device";
import { Tile } from "./PhotoTile";

const Large = lazy(() => import("./PhotoLarge"));

export const sameAbout = (a: About, b: About) =>
  (["asset", "point", "sheet", "question", "item", "entry"] as const).every((k) => (a[k] ?? "") === (b[k] ?? ""));

interface Props {
  view: VisitView;
  about: About;
  /** Something to record first; false: the photo is not taken. */
  before?: () => Promise<boolean>;
}

/** The photos of one thing, with a way to take another. */
export function PhotoStrip({ view, about, before }: Props) {
  const files = (view.visit.files ?? []).filter((f) => sameAbout(f.about, about));
  return (
    <>
      <PhotoList view={view} entries={files.map((f) => f.entry)} />
      <PhotoAdd visit={view.id} about={about} before={before} />
    </>
  );
}

export function PhotoList({ view, entries }: { view: VisitView; entries: string[] }) {
  const [open, setOpen] = useState<string>();
  const files = (view.visit.files ?? []).filter((f) => entries.includes(f.entry));
  const shown = files.find((f) => f.entry === open);
  return (
    <>
      {files.length > 0 && (
        <ul className="photos">
          {files.map((f) => (
            <li key={f.entry}>
              <Tile file={f} onOpen={() => setOpen(f.entry)} />
            </li>
          ))}
        </ul>
      )}
      {shown && (
        <Suspense fallback={null}>
          <Large view={view} file={shown} onClose={() => setOpen(undefined)} />
        </Suspense>
      )}
    </>
  );
}

/** Takes or picks photos; documents and sketches too, where they belong to the visit as a whole. */
export function PhotoAdd({ visit, about, before, all }: { visit: string; about: About; before?: () => Promise<boolean>; all?: boolean }) {
  const { t } = useTranslation();
  const { db, tell } = useDevice();
  const attach = useAttach();
  const waiting =
    useLive(db, async (db) => (await db.picked.where("visit").equals(visit).toArray()).filter((p) => sameAbout(p.about, about)).length, [
      visit,
      JSON.stringify(about),
    ]) ?? 0;
  const camera = useRef<HTMLInputElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const keep = async (files: File[]) => {
    try {
      await keepPicked(db, visit, about, files);
      if (!before || (await before())) attach();
    } catch (problem) {
      tell(say(problemOf(problem)));
    }
  };
  const take = (e: ChangeEvent<HTMLInputElement>) => {
    const picked = [...(e.target.files ?? [])];
    e.target.value = "";
    void keep(picked);
  };
  return (
    <div className="photos-add">
      <Button variant="outlined" onClick={() => camera.current?.click()}>
        {t("photos.take")}
      </Button>
      <Button variant="outlined" onClick={() => picker.current?.click()}>
        {t("photos.pick")}
      </Button>
      {all && (
        <Button variant="outlined" onClick={async () => keep([await blank(t("photos.sketch"))])}>
          {t("photos.sketch")}
        </Button>
      )}
      <input ref={camera} hidden type="file" accept={photoTypes} capture="environment" onChange={take} aria-label={t("photos.take")} />
      <input ref={picker} hidden type="file" accept={all ? paperTypes : photoTypes} multiple onChange={take} aria-label={t("photos.pick")} />
      {waiting > 0 && (
        <p className="small quiet" role="status">
          {t("photos.preparing", { count: waiting })}
        </p>
      )}
    </div>
  );
}
