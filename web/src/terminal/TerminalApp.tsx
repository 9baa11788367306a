/** A shared tablet in the workshop: people identify themselves, clock, and make room for the next. */
import { useCallback, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { letCoreLoad } from "../device/core";
import { DeviceProvider, useNow, useSync } from "../field/device";
import { SignOut } from "../field/outbox/SignOut";
import { useSyncWords } from "../field/SyncMark";
import SignIn from "../session/SignIn";
import type { Me, TerminalPerson } from "../types";
import { longDate, time } from "../ui/format";
import { useWedge } from "../ui/wedge";
import { Identify } from "./Identify";
import { byBadge, type Present, readPeople } from "./people";
import { Signed } from "./Signed";
import "../field/field.css";
import "./terminal.css";

/** What every badge says first. */
const badgePrefix = "ITER-B/";

export default function TerminalApp({ me }: { me: Me }) {
  return (
    <DeviceProvider me={me}>
      <Terminal />
    </DeviceProvider>
  );
}

function Terminal() {
  const { t } = useTranslation();
  const [people, setPeople] = useState<TerminalPerson[]>([]);
  const [who, setWho] = useState<Present>();
  const [left, setLeft] = useState<string>();
  const [said, setSaid] = useState("");
  const [signing, setSigning] = useState(false);
  const { phase } = useSync();
  const words = useSyncWords();
  const now = useNow(1000);
  useEffect(() => {
    letCoreLoad();
    const read = () => void readPeople().then(setPeople);
    read();
    const timer = setInterval(read, 300_000);
    return () => clearInterval(timer);
  }, []);
  const badge = useCallback(
    async (text: string) => {
      let person = await byBadge(people, text);
      if (!person) {
        const fresh = await readPeople(); // a badge may be new
        setPeople(fresh);
        person = await byBadge(fresh, text);
      }
      setSaid(person ? "" : t("terminal.unknown"));
      if (person) setWho({ ...person, identified: { since: Date.now(), key: text.trim() } }); // the next person's badge is enough, whoever was there before
    },
    [people, t],
  );
  useWedge(badge, { prefix: badgePrefix });
  // What people record meanwhile stays on the tablet.
  if (signing && phase === "signed_out") return <SignIn again />;
  return (
    <div className="terminal field">
      <header className="terminal-head on-night">
        <span className="terminal-clock">{time(now)}</span>
        <span>{longDate(now)}</span>
        <span className="terminal-sync" data-phase={phase}>
          {phase === "signed_out" ? (
            <button type="button" className="link" onClick={() => setSigning(true)}>
              {t("sync.signed_out")}
            </button>
          ) : (
            words
          )}
        </span>
        {!who && <SignOut label={t("terminal.close")} />}
      </header>
      {who ? (
        <Signed
          key={who.person}
          person={who}
          onLeave={() => {
            setLeft(who.identified?.key);
            setWho(undefined);
          }}
        />
      ) : (
        <Identify people={people} said={said} left={left} onBadge={badge} onPerson={setWho} />
      )}
    </div>
  );
}
