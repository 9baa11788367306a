import { Button, TextField } from "@mui/material";
import { useLiveQuery } from "dexie-react-hooks";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Part, Stock, VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useDevice, useRecord } from "../device";
import { matches } from "../parts";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

const most = 40;

export function Parts({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const [adding, setAdding] = useState(false);
  const stock = useLiveQuery(() => db.body<Stock>("stock", me.person.van), [db, me]);
  return (
    <VisitSection
      id="parts"
      title={t("visit.parts")}
      end={
        me.person.van && (
          <button type="button" className="link" onClick={() => setAdding(true)}>
            {t("parts.add")}
          </button>
        )
      }
    >
      {!me.person.van && <p className="quiet small">{t("parts.noVan")}</p>}
      {me.person.van && view.parts.length === 0 && <p className="quiet small">{t("parts.none")}</p>}
      {view.parts.map((p) => (
        <div className="line" key={p.entry}>
          <span className={`grow${p.struck ? " struck" : ""}`}>
            {p.name}
            <span className="tiny quiet block">{p.number}</span>
          </span>
          <span className={`end${p.struck ? " struck" : ""}`}>
            <b>{p.quantity}</b> {p.unit}
            {!p.struck && <span className="tiny quiet block">{t("parts.left", { quantity: stock?.lines[p.part]?.balance ?? "0" })}</span>}
          </span>
          <StrikeOut view={view} entry={p.entry} at={p.at} kind="part.used" person={p.person} place={p.place} struck={p.struck} />
        </div>
      ))}
      {adding && <PartPicker visit={view.id} van={me.person.van!} stock={stock} onClose={() => setAdding(false)} />}
    </VisitSection>
  );
}

function PartPicker({ visit, van, stock, onClose }: { visit: string; van: string; stock?: Stock; onClose: () => void }) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const [find, setFind] = useState("");
  const [chosen, setChosen] = useState<string>();
  const parts = useLiveQuery(() => db.all<Part>("part"), [db]) ?? [];
  const balance = (id: string) => stock?.lines[id]?.balance;
  // What the van has comes first.
  const found = parts
    .filter((p) => matches(p.body, find))
    .sort((a, b) => Number(Number(balance(b.id) ?? 0) > 0) - Number(Number(balance(a.id) ?? 0) > 0) || a.body.name.localeCompare(b.body.name))
    .slice(0, most);
  return (
    <ChoiceDrawer title={t("parts.add")} tall onClose={onClose}>
      <TextField
        label={t("parts.find")}
        value={find}
        onChange={(e) => setFind(e.target.value)}
        autoFocus
        slotProps={{ htmlInput: { autoComplete: "off", type: "search" } }}
      />
      <ul className="scroll">
        {found.map((p) =>
          p.id === chosen ? (
            <li key={p.id}>
              <QuantityLine part={p.body} id={p.id} visit={visit} van={van} left={balance(p.id)} onDone={onClose} />
            </li>
          ) : (
            <li key={p.id}>
              <button type="button" className="choice" onClick={() => setChosen(p.id)}>
                <span>
                  <span className="strong">{p.body.name}</span>
                  <span className="tiny quiet block">{p.body.number}</span>
                </span>
                <span className="small quiet">{balance(p.id) === undefined ? t("parts.notOnVan") : t("parts.onVan", { quantity: balance(p.id) })}</span>
              </button>
            </li>
          ),
        )}
        {found.length === 0 && <li className="empty">{t("parts.noMatch")}</li>}
      </ul>
    </ChoiceDrawer>
  );
}

function QuantityLine({ part, id, visit, van, left, onDone }: { part: Part; id: string; visit: string; van: string; left?: string; onDone: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const [quantity, setQuantity] = useState("1");
  const step = (by: number) => setQuantity((q) => String(Math.max(1, (Number(q.replace(",", ".")) || 0) + by)));
  const use = async () => {
    if (await record("part.used", visit, { part: id, place: van, quantity: quantity.trim().replace(",", ".") })) onDone();
  };
  return (
    <div className="quantity">
      <span className="strong">{part.name}</span>
      <span className="tiny quiet block">{left === undefined ? t("parts.notOnVan") : t("parts.onVan", { quantity: left })}</span>
      <span className="quantity-row">
        <Button aria-label={t("parts.less")} onClick={() => step(-1)}>
          −
        </Button>
        <TextField
          label={t("parts.quantity")}
          value={quantity}
          onChange={(e) => setQuantity(e.target.value)}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
        <Button aria-label={t("parts.more")} onClick={() => step(1)}>
          +
        </Button>
        <Button variant="contained" onClick={use}>
          {t("parts.use", { quantity, unit: part.unit })}
        </Button>
      </span>
    </div>
  );
}
