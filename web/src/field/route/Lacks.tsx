import { useState } from "react";
import { useTranslation } from "react-i18next";
import { quantity } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useHolders } from "../parts/useHolders";
import { WhoHas } from "../parts/WhoHas";
import type { Stop } from "../stops";
import type { Lack } from "./lacks";

/** Before leaving: which stop lacks what, and from where to get it. */
export default function Lacks({ lacks, stops }: { lacks: Lack[]; stops: Stop[] }) {
  const { t } = useTranslation();
  const [asking, setAsking] = useState<Lack>();
  return (
    <section className="lacks" aria-label={t("lacks.title")}>
      <p>
        <Tag kind="bad">{t("lacks.sum", { count: lacks.length })}</Tag>
      </p>
      <ul>
        {lacks.map((l) => (
          <li key={`${l.stop} ${l.part}`}>
            <LackLine lack={l} site={stops.find((s) => s.id === l.stop)?.site?.name ?? ""} onAsk={() => setAsking(l)} />
          </li>
        ))}
      </ul>
      {asking && <WhoHas part={asking.part} name={asking.name} quantity={asking.lacks} visit={asking.stop} onClose={() => setAsking(undefined)} />}
    </section>
  );
}

function LackLine({ lack: l, site, onAsk }: { lack: Lack; site: string; onAsk: () => void }) {
  const { t } = useTranslation();
  const nearest = useHolders(l.part, l.lacks)?.list[0];
  return (
    <button type="button" className="choice" onClick={onAsk}>
      <span>
        <span className="strong">
          {quantity(l.lacks, l.unit)} × {l.name}
        </span>
        <span className="tiny quiet block">
          {t("lacks.for", { site })}
          {nearest && ` · ${t("lacks.from", { place: nearest.person || nearest.name, quantity: nearest.free })}`}
        </span>
      </span>
      <span className="small quiet nowrap">{t("needs.who")}</span>
    </button>
  );
}
