import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import { time, timeOrDay } from "../../ui/format";
import { useCore, useDevice, useSettings } from "../device";

/** For how many days it is said when somebody is on duty. */
const days = 14;

/** When the person is on duty in the coming days. */
export function Turns({ now }: { now: number }) {
  const { t } = useTranslation();
  const { me } = useDevice();
  const settings = useSettings();
  const ready = useCore();
  const rotas = settings?.planning.rotas;
  if (!ready || !settings || !rotas?.length) return null;
  const turns = core("turns", { person: me.id, rotas, zone: settings.company.zone, now, days });
  if (turns.length === 0) return null;
  return (
    <section className="sec" aria-label={t("turns.title")}>
      <h2>{t("turns.title")}</h2>
      <ul className="small">
        {turns.map((x) => (
          <li key={x.begin}>
            {x.rota}: {timeOrDay(x.begin)}–{time(x.end)}
          </li>
        ))}
      </ul>
    </section>
  );
}
