import { Suspense, useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { TerminalPerson } from "../types";
import { Tag } from "../ui/Glyph";
import { Camera } from "../ui/Scan";
import { say } from "../words/i18n";
import { byPin, type Present } from "./people";

interface Props {
  people: TerminalPerson[];
  said: string;
  /** the badge of whoever left last */
  left?: string;
  onBadge: (text: string) => void;
  onPerson: (p: Present) => void;
}

const keys = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "back", "0", "go"] as const;

/** After so many pictures without it, and milliseconds, a badge is away: one that is blurred is not, nor is it while the camera begins. */
const [pictures, away] = [4, 2000];

/** Who is there: a badge in front of the camera or the scanner, or a number and PIN. */
export function Identify({ people, said, left, onBadge, onPerson }: Props) {
  const { t } = useTranslation();
  const [camera, setCamera] = useState(() => localStorage.getItem("iter.terminal.camera") === "on");
  useEffect(() => localStorage.setItem("iter.terminal.camera", camera ? "on" : "off"), [camera]);
  // Whoever leaves with their badge still before the camera has left: it counts again once it was away.
  const staying = useRef({ badge: left, without: 0, since: Date.now() });
  const seen = (text: string) => {
    Object.assign(staying.current, { without: 0, since: Date.now() });
    if (text !== staying.current.badge) onBadge(text);
  };
  const nothing = () => {
    if (++staying.current.without >= pictures && Date.now() - staying.current.since >= away) staying.current.badge = undefined;
  };
  return (
    <main className="terminal-identify">
      <section aria-label={t("terminal.badge")}>
        <h1>{t("terminal.badge")}</h1>
        <p className="quiet">{t("terminal.badgeHint")}</p>
        {camera && (
          <Suspense fallback={null}>
            <Camera onText={seen} onNothing={nothing} />
          </Suspense>
        )}
        <button type="button" className="answer" onClick={() => setCamera(!camera)}>
          {t(camera ? "terminal.cameraOff" : "terminal.cameraOn")}
        </button>
        <p role="status">{said && <Tag kind="bad">{said}</Tag>}</p>
      </section>
      <NumberAndPin people={people} onPerson={onPerson} />
    </main>
  );
}

function NumberAndPin({ people, onPerson }: Pick<Props, "people" | "onPerson">) {
  const { t } = useTranslation();
  const [typed, setTyped] = useState({ number: "", pin: "" });
  const [field, setField] = useState<"number" | "pin">("number");
  const [wrong, setWrong] = useState("");
  const [asking, setAsking] = useState(false);
  const go = async () => {
    if (field === "number") return typed.number && setField("pin");
    setAsking(true);
    const found = await byPin(people, typed.number, typed.pin);
    setAsking(false);
    if ("person" in found) return onPerson(found);
    setWrong(say(found));
    setTyped({ ...typed, pin: "" });
  };
  const press = (key: (typeof keys)[number]) => {
    if (key === "go") return void go();
    setWrong("");
    setTyped({ ...typed, [field]: key === "back" ? typed[field].slice(0, -1) : (typed[field] + key).slice(0, 8) });
  };
  return (
    <form
      className="terminal-pin"
      aria-label={t("terminal.number")}
      onSubmit={(e) => {
        e.preventDefault();
        void go();
      }}
    >
      {(["number", "pin"] as const).map((f) => (
        <label key={f} className={field === f ? "on" : undefined}>
          <span className="small quiet">{t(`terminal.${f}`)}</span>
          <input
            type={f === "pin" ? "password" : "text"}
            inputMode="none"
            autoComplete="off"
            value={typed[f]}
            onFocus={() => setField(f)}
            onChange={(e) => setTyped({ ...typed, [f]: e.target.value.replace(/\D/g, "").slice(0, 8) })}
          />
        </label>
      ))}
      <div className="terminal-keys">
        {keys.map((k) => (
          <button key={k} type="button" className={k === "go" ? "next" : undefined} disabled={asking} onClick={() => press(k)}>
            {k === "go" ? t(field === "number" ? "terminal.next" : "terminal.enter") : k === "back" ? t("terminal.back") : k}
          </button>
        ))}
      </div>
      <p role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</p>
    </form>
  );
}
