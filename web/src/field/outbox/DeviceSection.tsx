import { ToggleButton, ToggleButtonGroup } from "@mui/material";
import { lazy, Suspense, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { beReached, isReached } from "../../device/push";
import { bytes } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { chooseGround, grounds, useGround } from "../../ui/ground";
import { useDevice } from "../device";
import { SignOut } from "./SignOut";

const ChangePassword = lazy(() => import("../../session/ChangePassword"));

/** Room for less than this is little. */
const little = 200e6;

/** The screen's ground, what storage there is and whether the browser promised to keep it, and signing out. */
export function DeviceSection({ unsent }: { unsent: number }) {
  const { t } = useTranslation();
  const ground = useGround();
  const { me, tell } = useDevice();
  const storage = useStorage(unsent);
  const [changing, setChanging] = useState(false);
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
      <Announce />
      {storage && (
        <p className="small quiet">
          {t("outbox.storage", { used: bytes(storage.used), left: bytes(storage.left) })} {t(storage.kept ? "outbox.protected" : "outbox.unprotected")}
        </p>
      )}
      {storage && storage.left < little && <Tag kind="warn">{t("outbox.full")}</Tag>}
      <p className="small quiet">{t("outbox.version", { version: __VERSION__ })}</p>
      <p className="device-ways">
        <button type="button" className="link" onClick={() => setChanging(true)}>
          {t("password.change")}
        </button>
        <SignOut label={t("signin.out")} />
      </p>
      {changing && (
        <Suspense fallback={null}>
          <ChangePassword
            onClose={(changed) => {
              setChanging(false);
              if (changed) tell(t("password.changed"));
            }}
          />
        </Suspense>
      )}
    </section>
  );
}

interface Storage {
  used: number;
  left: number;
  kept: boolean;
}

/** How much this device keeps, how much room is left, and whether the browser promised to keep it; told anew when what waits changes. */
function useStorage(unsent: number): Storage | undefined {
  const [storage, set] = useState<Storage>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what waits is what changes it
  useEffect(() => {
    let here = true;
    void Promise.all([navigator.storage?.estimate?.(), navigator.storage?.persisted?.()]).then(
      ([e, kept]) => here && e && set({ used: e.usage ?? 0, left: Math.max(0, (e.quota ?? 0) - (e.usage ?? 0)), kept: kept ?? false }),
      () => {},
    );
    return () => {
      here = false;
    };
  }, [unsent]);
  return storage;
}

/** Asks to announce new visits while the app is not in front, where the browser can. */
function Announce() {
  const { t } = useTranslation();
  const { db } = useDevice();
  const [state, setState] = useState(() => ("Notification" in globalThis ? Notification.permission : "denied"));
  const [reached, setReached] = useState<boolean>();
  useEffect(() => void isReached().then(setReached), []);
  if (state === "denied") return null;
  if (state === "granted") return <p className="small quiet">{t(reached ? "announce.closed" : "announce.on")}</p>;
  const allow = async () => {
    setState(await Notification.requestPermission());
    setReached(await beReached(db));
  };
  return (
    <button type="button" className="link" onClick={() => void allow()}>
      {t("announce.allow")}
    </button>
  );
}
