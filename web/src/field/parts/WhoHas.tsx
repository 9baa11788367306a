import { lazy, Suspense } from "react";
import { useTranslation } from "react-i18next";
import type { Near } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { duration, kilometres, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice, useRecord } from "../device";
import { useHolders } from "./useHolders";

const HolderMap = lazy(() => import("./HolderMap"));

interface Props {
  part: string;
  name: string;
  quantity: string;
  /** the visit it is for: the office can be asked to have it sent */
  visit?: string;
  onClose: () => void;
}

/** Who has a part: stores and vans by the way there, with a map, and how old that is. */
export function WhoHas({ part, name, quantity, visit, onClose }: Props) {
  const { t } = useTranslation();
  const { tell } = useDevice();
  const record = useRecord();
  const found = useHolders(part, quantity);
  const send = async (n: Near) => {
    const place = n.person || n.name;
    if (!visit || !(await record("part.requested", visit, { part, text: name, quantity, note: t("near.sendNote", { place }) }))) return;
    tell(t("near.asked", { part: name, place }));
    onClose();
  };
  return (
    <ChoiceDrawer title={t("near.title", { part: name })} tall onClose={onClose}>
      {found === undefined && <p className="quiet">{t("near.unknown")}</p>}
      {found && <p className="small quiet">{t("near.age", { time: timeOrDay(found.at) })}</p>}
      {found?.list.length === 0 && <p className="empty">{t("near.nobody")}</p>}
      {found?.list.some((n) => n.at) && (
        <Suspense fallback={null}>
          <HolderMap holders={found.list} from={found.from} />
        </Suspense>
      )}
      <ol className="scroll">
        {found?.list.map((n, i) => (
          <Holder key={n.place} near={n} number={i + 1} onSend={visit ? () => send(n) : undefined} />
        ))}
      </ol>
    </ChoiceDrawer>
  );
}

function Holder({ near: n, number, onSend }: { near: Near; number: number; onSend?: () => void }) {
  const { t } = useTranslation();
  return (
    <li className="line">
      <b className="near-number">{number}</b>
      <span className="grow">
        {n.name}
        {n.person && ` · ${n.person}`}
        <span className="tiny quiet block">
          {n.seconds >= 0 ? t("near.way", { time: duration(n.seconds), way: kilometres(n.metres) }) : t("near.noWay")}
          {n.seen && ` · ${t("near.seen", { time: timeOrDay(n.seen) })}`}
        </span>
        {!n.enough && <Tag kind="warn">{t("near.few")}</Tag>}
      </span>
      <span className="end">
        <b>{n.free}</b>
        {onSend && (
          <button type="button" className="link small block" aria-label={t("near.sendNamed", { place: n.person || n.name })} onClick={onSend}>
            {t("near.send")}
          </button>
        )}
        {n.phone && (
          <a className="link small block" href={`tel:${n.phone.replaceAll(" ", "")}`}>
            {t("near.call")}
          </a>
        )}
      </span>
    </li>
  );
}
