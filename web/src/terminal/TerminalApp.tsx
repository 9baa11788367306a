/** A shared tablet in the workshop: people identify themselves, clock, and make room for the next. */
import { useCallback, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { letCoreLoad } from "../device/core";
import { DeviceProvider, useNow, useSync } from "../field/device";
import { ask, remember } from "../session/session";
import type { Me, TerminalPerson } from "../types";
import { longDate, time } from "../ui/format";
import { Identify } from "./Identify";
import { byBadge, readPeople } from "./people";
import { Signed } from "./Signed";
import { useWedge } from "./wedge";
import "../field/field.css";
import "./terminal.css";

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
  const [who, setWho] = useState<TerminalPerson>();
  const [said, setSaid] = useState("");
  const { phase, waiting } = useSync();
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
      if (person) setWho(person); // the next person's badge is enough, whoever was there before
    },
    [people, t],
  );
  useWedge(badge);
  return (
    <div className="terminal field">
      <header className="terminal-head on-night">
        <span className="terminal-clock">{time(now)}</span>
        <span>{longDate(now)}</span>
        <span className="terminal-sync" data-phase={phase}>
          {phase === "idle" && waiting === 0 ? t("sync.idle") : phase === "idle" ? t("sync.waiting", { count: waiting }) : t(`sync.${phase}`)}
        </span>
        {!who && (
          <button type="button" className="link" onClick={() => void ask("/api/signout", {}).then(() => remember(null))}>
            {t("terminal.close")}
          </button>
        )}
      </header>
      {who ? (
        <Signed key={who.person} person={who} onLeave={() => setWho(undefined)} />
      ) : (
        <Identify people={people} said={said} onBadge={badge} onPerson={setWho} />
      )}
    </div>
  );
}
