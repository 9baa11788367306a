import { Button, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useLiveQuery } from "dexie-react-hooks";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { ask, remember } from "../session/session";
import type { Order, Pending, Site, Visit } from "../types";
import { timeOrDay } from "../ui/format";
import { Mark, Tag } from "../ui/Glyph";
import { chooseGround, grounds, useGround } from "../ui/ground";
import { say, type Word } from "../words/i18n";
import { useDevice, useReplica, useSync } from "./device";
import { SyncMark } from "./SyncMark";

/** What is not yet at the office, in plain words. */
export default function Outbox() {
  const { t } = useTranslation();
  const { db, syncer } = useDevice();
  const { phase, waiting } = useSync();
  const contact = useReplica()?.contact;
  const pending = useLiveQuery(async () => {
    const all = (await db.pending.orderBy("n").toArray()).filter((p) => !p.seq);
    return Promise.all(all.map(async (p) => ({ ...p, site: await siteOf(db, p) })));
  }, [db]);
  return (
    <main className="plain">
      <header className="screen-head">
        <div>
          <h1>{t("outbox.title")}</h1>
          <p className="small quiet">{contact ? t("outbox.emptyHint", { time: timeOrDay(contact) }) : t("outbox.never")}</p>
        </div>
        <SyncMark />
      </header>
      {pending?.length === 0 ? (
        <p className="outbox-all">
          <Tag kind="good">{t("outbox.empty")}</Tag>
        </p>
      ) : (
        <>
          <p className="small">{t("outbox.kept")}</p>
          <ul>
            {pending?.map((p) => (
              <li className="line" key={p.id}>
                <Mark kind={p.held ? "warn" : "wait"} />
                <span className="grow">
                  <span className="strong">{t(`entry.${p.kind}` as Word)}</span> {gist(p)}
                  <span className="small quiet block">{t("outbox.at", { visit: p.site ?? "", time: timeOrDay(p.at) })}</span>
                  {p.held ? (
                    <span className="small block">{t("outbox.held", { why: say(p.held) })}</span>
                  ) : (
                    <span className="small quiet block">{t(`outbox.why.${phase}`)}</span>
                  )}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      {waiting > 0 && phase !== "offline" && <Button onClick={syncer.wake}>{t("outbox.try")}</Button>}
      <Device unsent={waiting} />
    </main>
  );
}

async function siteOf(db: ReturnType<typeof useDevice>["db"], p: Pending): Promise<string | undefined> {
  const visit = await db.body<Visit>("visit", p.subject.id);
  const order = await db.body<Order>("workorder", visit?.order);
  return (await db.body<Site>("site", order?.site))?.name;
}

/** The heart of an entry in a few words. */
function gist(p: Pending): string {
  const b = p.body as { text?: string; part?: string; quantity?: string; value?: string; unit?: string; name?: string };
  if (b.text) return b.text.length > 60 ? `${b.text.slice(0, 60)}…` : b.text;
  if (b.part) return `${b.quantity} × ${b.part}`;
  if (b.name) return b.name;
  return b.value ? `${b.value} ${b.unit ?? ""}` : "";
}

/** The screen's ground, what the browser promised, and signing out. */
function Device({ unsent }: { unsent: number }) {
  const { t } = useTranslation();
  const ground = useGround();
  const { me, tell } = useDevice();
  const [kept, setKept] = useState<boolean>();
  useEffect(() => {
    navigator.storage?.persisted?.().then(setKept, () => setKept(undefined));
  }, []);
  const signOut = async () => {
    try {
      await ask("/api/signout", {});
      remember(null);
    } catch {
      tell(say({ code: "server.unreachable" }));
    }
  };
  return (
    <section className="sec device">
      <h2>
        {t("settings.ground")}
        <span className="small quiet">{me.person.name}</span>
      </h2>
      <ToggleButtonGroup exclusive value={ground} onChange={(_, g) => g && chooseGround(g)} aria-label={t("settings.ground")}>
        {grounds.map((g) => (
          <ToggleButton key={g} value={g}>
            {t(`ground.${g}`)}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {kept !== undefined && <p className="small quiet">{t(kept ? "outbox.protected" : "outbox.unprotected")}</p>}
      {unsent === 0 && (
        <button type="button" className="link" onClick={signOut}>
          {t("signin.out")}
        </button>
      )}
    </section>
  );
}
