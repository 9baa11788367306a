/** Photos: of the visit, of a question, of a meter. Taken or picked, kept on this device at once, sent by themselves. */
import { Button } from "@mui/material";
import { type ChangeEvent, lazy, Suspense, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { attachmentOf, blank, paperTypes, photoTypes, prepare } from "../../device/files";
import type { About, VisitView } from "../../types";
import { say } from "../../words/i18n";
import { problemOf, useDevice, useRecord } from "../device";
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
  const { tell } = useDevice();
  const record = useRecord();
  const [busy, setBusy] = useState(0);
  const camera = useRef<HTMLInputElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const keep = async (make: () => ReturnType<typeof prepare>) => {
    setBusy((n) => n + 1);
    try {
      const file = await make();
      if (!before || (await before())) await record("file.attached", visit, { ...attachmentOf(file), about }, { file: { ...file, visit } });
    } catch (problem) {
      tell(say(problemOf(problem)));
    }
    setBusy((n) => n - 1);
  };
  const take = async (e: ChangeEvent<HTMLInputElement>) => {
    const picked = [...(e.target.files ?? [])];
    e.target.value = "";
    for (const p of picked) await keep(() => prepare(p));
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
        <Button variant="outlined" onClick={() => keep(() => blank(t("photos.sketch")))}>
          {t("photos.sketch")}
        </Button>
      )}
      <input ref={camera} hidden type="file" accept={photoTypes} capture="environment" onChange={take} aria-label={t("photos.take")} />
      <input ref={picker} hidden type="file" accept={all ? paperTypes : photoTypes} multiple onChange={take} aria-label={t("photos.pick")} />
      {busy > 0 && (
        <p className="small quiet" role="status">
          {t("photos.preparing", { count: busy })}
        </p>
      )}
    </div>
  );
}
