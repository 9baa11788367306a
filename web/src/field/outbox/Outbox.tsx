import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { DeviceDB } from "../../device/db";
import { useLive } from "../../device/live";
import { keyOf, type StoredFile } from "../../device/tables";
import type { Pending } from "../../types";
import { bytes, timeOrDay } from "../../ui/format";
import { Mark, Tag } from "../../ui/Glyph";
import { say, type Word } from "../../words/i18n";
import { useDevice, useReplica, useSync } from "../device";
import { SyncMark } from "../SyncMark";
import { DeviceSection } from "./DeviceSection";
import { Look, Ways } from "./Look";
import { SaveUnsent } from "./SaveUnsent";

/** What is not yet at the office, in plain words: what, when, how large, and why it waits. */
export default function Outbox() {
  const { t } = useTranslation();
  const { db, syncer } = useDevice();
  const { phase, waiting } = useSync();
  const contact = useReplica()?.contact;
  const entries = useLive(
    db,
    async (db) => {
      const all = (await db.unfolded()).filter((p) => !p.seq);
      return Promise.all(all.map(async (p) => ({ ...p, where: await whereOf(db, p), size: JSON.stringify(p).length })));
    },
    [],
  );
  const files = useLive(db, (db) => db.files.where("state").anyOf("waiting", "refused").sortBy("at"), []);
  if (!entries || !files || waiting === undefined) return null;
  const unsent = entries.filter((e) => !e.held);
  const size = [...unsent, ...files].reduce((sum, x) => sum + x.size, 0);
  return (
    <main className="plain">
      <header className="screen-head">
        <div>
          <h1>{t("outbox.title")}</h1>
          <p className="small quiet">{contact ? t("outbox.emptyHint", { time: timeOrDay(contact) }) : t("outbox.never")}</p>
        </div>
        <SyncMark />
      </header>
      <Look />
      {entries.length + files.length === 0 ? (
        <p className="outbox-all">
          <Tag kind="good">{t("outbox.empty")}</Tag>
        </p>
      ) : (
        <>
          <p className="small">
            <b>{t("outbox.waits", { count: unsent.length + files.length, size: bytes(size) })}</b>
            <span className="block quiet">{t("outbox.kept")}</span>
          </p>
          <ul>
            {entries.map((p) => (
              <EntryLine key={p.id} entry={p} why={t(`outbox.why.${phase}`)} />
            ))}
            {files.map((f) => (
              <FileLine key={f.hash} file={f} why={entries.some((e) => e.id === f.entry && !e.held) ? t("outbox.after") : t(`outbox.why.${phase}`)} />
            ))}
          </ul>
        </>
      )}
      {waiting > 0 && phase !== "offline" && <Button onClick={syncer.wake}>{t("outbox.try")}</Button>}
      {unsent.length + files.length > 0 && <SaveUnsent />}
      <DeviceSection unsent={waiting} />
    </main>
  );
}

function EntryLine({ entry: p, why }: { entry: Pending & { where: string; size: number }; why: string }) {
  const { t } = useTranslation();
  return (
    <li className="line">
      <Mark kind={p.held ? "warn" : "wait"} />
      <span className="grow">
        <span className="strong">{t(`entry.${p.kind}` as Word)}</span> {gist(p)}
        <span className="small quiet block">
          {[p.where, timeOrDay(p.at), bytes(p.size)].filter(Boolean).join(" · ")}
          {!p.held && <span className="block">{why}</span>}
        </span>
        {p.held && (
          <span className="small block">
            {t("outbox.held", { why: say(p.held) })}
            <Ways subject={p.subject} />
          </span>
        )}
      </span>
    </li>
  );
}

function FileLine({ file: f, why }: { file: StoredFile; why: string }) {
  const { t } = useTranslation();
  const reason = f.sent ? t("outbox.part", { part: bytes(f.sent), size: bytes(f.size) }) : why;
  return (
    <li className="line">
      <Mark kind={f.problem ? "warn" : "wait"} />
      <span className="grow">
        <span className="strong">{t(f.type.startsWith("image/") ? "outbox.photo" : "outbox.document")}</span> {f.name}
        <span className="small quiet block">
          {timeOrDay(f.at)} · {bytes(f.size)}
          <span className="block">{f.problem ? t("outbox.refused", { why: say(f.problem) }) : reason}</span>
        </span>
      </span>
    </li>
  );
}

/** What an entry is about: the site of a visit, or the record's name. */
async function whereOf(db: DeviceDB, p: Pending): Promise<string> {
  if (p.subject.type !== "visit") return ((await db.documents.get([keyOf(p.subject)]))[0]?.body as { name?: string } | undefined)?.name ?? "";
  const visit = await db.body("visit", p.subject.id);
  const order = await db.body("workorder", visit?.order);
  return (await db.body("site", order?.site))?.name ?? "";
}

/** The heart of an entry in a few words. */
function gist(p: Pending): string {
  const b = p.body as { text?: string; part?: string; quantity?: string; value?: string; unit?: string; name?: string };
  if (b.text) return b.text.length > 60 ? `${b.text.slice(0, 60)}…` : b.text;
  if (b.part) return `${b.quantity} × ${b.part}`;
  if (b.name) return b.name;
  return b.value ? `${b.value} ${b.unit ?? ""}` : "";
}
