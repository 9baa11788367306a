import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import type { DeviceDB } from "../../device/db";
import { useLive } from "../../device/live";
import { missing, type Needed } from "../../device/pack";
import { bytes } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice } from "../device";

/** How often it is looked for what is still to come, in milliseconds: browsers don't tell of it. */
const every = 1000;

/** What was found last, so that coming back to the route moves nothing under the thumb a moment later. */
const found = new WeakMap<DeviceDB, Needed[]>();

/** What the phone still needs before it can be without signal, and once that it needs nothing more. */
export default function GettingReady() {
  const { t } = useTranslation();
  const { db } = useDevice();
  const [needed, setNeeded] = useState(() => found.get(db));
  const told = useLive(db, async (db) => ((await db.remembered.get("told"))?.value as boolean | undefined) ?? false, []);
  const done = told && needed?.length === 0;
  useEffect(() => {
    if (done) return;
    let here = true;
    const look = () =>
      void missing(db).then((n) => {
        found.set(db, n);
        if (here) setNeeded(n);
      });
    look();
    const timer = setInterval(look, every);
    return () => {
      here = false;
      clearInterval(timer);
    };
  }, [db, done]);
  if (told === undefined || done) return null;
  const word = ({ what, bytes: size }: Needed) => (size ? t("need.size", { what: t(`need.${what}`), size: bytes(size) }) : t(`need.${what}`));
  return (
    <section className="getting-ready" role="status">
      {needed?.length !== 0 ? (
        <>
          <Tag kind="warn">{t("need.title")}</Tag>
          <span className="small block">{"serviceWorker" in navigator ? needed?.map(word).join(" · ") : t("need.noPages")}</span>
        </>
      ) : (
        <>
          <Tag kind="good">{t("need.ready")}</Tag>
          <button type="button" className="link" onClick={() => void db.remembered.put({ name: "told", value: true })}>
            {t("need.ok")}
          </button>
        </>
      )}
    </section>
  );
}
