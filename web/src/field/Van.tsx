import { TextField } from "@mui/material";
import { useLiveQuery } from "dexie-react-hooks";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Part, Stock } from "../types";
import { Empty } from "../ui/Empty";
import { Tag } from "../ui/Glyph";
import { useDevice } from "./device";
import { matches } from "./parts";
import { SyncMark } from "./SyncMark";

export default function Van() {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const [find, setFind] = useState("");
  const lines = useLiveQuery(async () => {
    const stock = await db.body<Stock>("stock", me.person.van);
    const held = Object.entries(stock?.lines ?? {});
    const parts = await db.shown.bulkGet(held.map(([id]) => `part/${id}`));
    return held
      .map(([id, line], i) => ({ id, balance: line.balance, part: (parts[i]?.body as Part | undefined) ?? ({ number: id, name: id, unit: "" } as Part) }))
      .sort((a, b) => a.part.name.localeCompare(b.part.name));
  }, [db, me]);
  const shown = lines?.filter((l) => matches(l.part, find)) ?? [];
  return (
    <main className="plain">
      <header className="screen-head">
        <div>
          <h1>{t("van.title")}</h1>
          <p className="small quiet">{t("van.lines", { count: lines?.length ?? 0 })}</p>
        </div>
        <SyncMark />
      </header>
      <TextField label={t("van.find")} value={find} onChange={(e) => setFind(e.target.value)} />
      {lines && shown.length === 0 && <Empty>{t(lines.length > 0 ? "parts.noMatch" : "van.none")}</Empty>}
      <ul>
        {shown.map((l) => (
          <li className="line" key={l.id}>
            <span className="grow">
              {l.part.name}
              <span className="tiny quiet block">{l.part.number}</span>
              {Number(l.balance) < 0 && <Tag kind="bad">{t("van.below")}</Tag>}
            </span>
            <span className="end">
              <b>{l.balance}</b> <span className="tiny quiet">{l.part.unit}</span>
            </span>
          </li>
        ))}
      </ul>
    </main>
  );
}
