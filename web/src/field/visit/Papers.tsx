import { useTranslation } from "react-i18next";
import { fetchFile } from "../../device/files";
import { useLive } from "../../device/live";
import { largestPaper } from "../../device/pack";
import type { FileRef, Document as Paper, VisitView } from "../../types";
import { bytes } from "../../ui/format";
import { Mark } from "../../ui/Glyph";
import { useDevice } from "../device";
import { VisitSection } from "./VisitSection";

/** The office's documents about the order, the site, the machine, and the parts for it: listed at once, fetched when they are opened or before. */
export function Papers({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const open = useOpenPaper();
  const wanted = [...new Set([...view.needs, ...view.parts].map((p) => p.part))];
  const manuals = useLive(db, async (db) => (await Promise.all(wanted.map((id) => db.body("part", id)))).map((p) => p?.documents), [wanted.join()]);
  const papers = Object.entries(
    Object.assign({}, view.order.documents, view.site.documents, view.asset?.documents, ...(manuals ?? [])) as Record<string, Paper>,
  );
  const hashes = papers.map(([hash]) => hash);
  const here = useLive(db, async (db) => new Set((await db.files.bulkGet(hashes)).map((f) => f?.hash)), [hashes.join()]);
  if (papers.length === 0) return null;
  return (
    <VisitSection id="papers" title={t("papers.title")}>
      {papers.map(([hash, p]) => (
        <button type="button" className="line line-button" key={hash} onClick={() => open(hash, p)}>
          <Mark kind={here?.has(hash) ? "good" : "wait"} />
          <span className="grow">
            {p.name}
            <span className="tiny quiet block">
              {bytes(p.size)} · {t(here?.has(hash) ? "papers.here" : p.size > largestPaper ? "papers.large" : "papers.away")}
            </span>
          </span>
        </button>
      ))}
    </VisitSection>
  );
}

/** Opens a document: as it is kept here, or fetched first. */
function useOpenPaper() {
  const { t } = useTranslation();
  const { db, tell } = useDevice();
  return async (hash: string, p: Pick<Paper, "name" | "type" | "size">) => {
    const page = window.open("", "_blank"); // at once, or the browser takes it for an advertisement
    try {
      const file = await fetchFile(db, { hash, name: p.name, type: p.type, size: p.size });
      const url = URL.createObjectURL(file.blob);
      if (page) page.location.href = url;
      else location.href = url;
      setTimeout(() => URL.revokeObjectURL(url), 600_000);
    } catch {
      page?.close();
      tell(t("papers.failed"));
    }
  };
}

/** A document by its name. */
export function PaperLink({ paper }: { paper: FileRef }) {
  const open = useOpenPaper();
  return (
    <button type="button" className="link" onClick={() => open(paper.hash, paper)}>
      {paper.name}
    </button>
  );
}
