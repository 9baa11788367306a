import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { NavLink, useParams } from "react-router";
import { matches } from "../../catalogue/catalogue";
import { May } from "../../session/May";
import type { Part, Shelf, ShelfLine } from "../../types";
import { decimal } from "../../ui/decimal";
import { Empty } from "../../ui/Empty";
import { price, quantity } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Answer, useCurrency } from "../queries";
import { CountPlace } from "./CountPlace";
import { FindPart } from "./FindPart";
import { Movements } from "./Movements";
import { PartAtPlace } from "./PartAtPlace";
import { fileOf, usePlaces, useShelf } from "./queries";

/** What is where: a place, what it holds, what it should hold, and what moved. */
export function Places() {
  const { t } = useTranslation();
  const places = usePlaces();
  const chosen = useParams().place;
  return (
    <Answer query={places}>
      {(list) => {
        const id = chosen ?? list[0]?.id ?? "";
        return list.length === 0 ? (
          <Empty>{t("places.none")}</Empty>
        ) : (
          <div className="places">
            <nav aria-label={t("stores.places")}>
              {list.map((p) => (
                <NavLink key={p.id} to={`/office/stores/places/${p.id}`} className={p.id === id ? "active" : undefined}>
                  {p.name} <span className="small quiet block">{p.personName}</span>
                </NavLink>
              ))}
            </nav>
            <Place key={id} id={id} />
          </div>
        );
      }}
    </Answer>
  );
}

function Place({ id }: { id: string }) {
  const { t } = useTranslation();
  const query = useShelf(id);
  const [part, setPart] = useState("");
  const [finding, setFinding] = useState(false);
  const [counting, setCounting] = useState(false);
  return (
    <Answer query={query}>
      {(shelf) => (
        <section className="place">
          <Head shelf={shelf} counting={counting} onCount={() => setCounting(!counting)} onAdd={() => setFinding(true)} />
          {counting ? <CountPlace shelf={shelf} onDone={() => setCounting(false)} /> : <Lines shelf={shelf} onPart={setPart} />}
          <Movements place={id} part="" />
          {part && <PartAtPlace shelf={shelf} part={part} onClose={() => setPart("")} />}
          {finding && (
            <FindPart
              title={t("places.add", { place: shelf.place.name })}
              onPick={(p) => {
                setFinding(false);
                setPart(p);
              }}
              onClose={() => setFinding(false)}
            />
          )}
        </section>
      )}
    </Answer>
  );
}

interface HeadProps {
  shelf: Shelf;
  counting: boolean;
  onCount: () => void;
  onAdd: () => void;
}

function Head({ shelf, counting, onCount, onAdd }: HeadProps) {
  const { t } = useTranslation();
  const currency = useCurrency();
  const below = shelf.lines.filter((l) => decimal(l.balance).lt(0)).length;
  return (
    <h2 className="stores-head">
      <span>
        {shelf.place.name} <span className="quiet">{t("places.value", { value: price(shelf.value, currency) })}</span>{" "}
        {below > 0 && <Tag kind="bad">{t("places.below", { count: below })}</Tag>}
      </span>
      <span>
        <May right="stock.counted">
          <Button size="small" aria-pressed={counting} onClick={onCount}>
            {t(counting ? "count.stop" : "count.start")}
          </Button>
        </May>{" "}
        <Button size="small" onClick={onAdd}>
          {t("places.other")}
        </Button>{" "}
        <a className="link small" href={fileOf("stock.csv", { place: shelf.place.id })}>
          CSV
        </a>
      </span>
    </h2>
  );
}

function Lines({ shelf, onPart }: { shelf: Shelf; onPart: (part: string) => void }) {
  const { t } = useTranslation();
  const [find, setFind] = useState("");
  const [all, setAll] = useState(false);
  const found = shelf.lines.filter((l) => matches(l as unknown as Part, find));
  const first = 25;
  return (
    <>
      <TextField label={t("van.find")} value={find} onChange={(e) => setFind(e.target.value)} slotProps={{ htmlInput: { type: "search" } }} />
      <table className="table">
        <thead>
          <tr>
            <th>{t("picks.part")}</th>
            <th className="num">{t("places.balance")}</th>
            <th>{t("places.held")}</th>
            <th className="num">{t("places.incoming")}</th>
            <th className="num">{t("fill.levels")}</th>
          </tr>
        </thead>
        <tbody>
          {found.slice(0, all || find ? undefined : first).map((l) => (
            <tr key={l.part}>
              <td>
                <button type="button" className="link" onClick={() => onPart(l.part)}>
                  {l.name}
                </button>{" "}
                <span className="small quiet">{l.number}</span>
              </td>
              <td className="num">
                <Balance line={l} />
              </td>
              <td className="small">{l.held.map((h) => t("places.heldFor", { quantity: h.quantity, number: h.number })).join(", ")}</td>
              <td className="num">{decimal(l.incoming).gt(0) ? l.incoming : ""}</td>
              <td className="num">{decimal(l.level.max).gt(0) ? `${l.level.min} – ${l.level.max}` : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.length === 0 && <Empty>{t("places.nothing")}</Empty>}
      {!all && !find && found.length > first && (
        <button type="button" className="link" onClick={() => setAll(true)}>
          {t("attention.all", { count: found.length })}
        </button>
      )}
    </>
  );
}

function Balance({ line: l }: { line: ShelfLine }) {
  const n = decimal(l.balance);
  if (n.lt(0)) return <Tag kind="bad">{quantity(l.balance, l.unit)}</Tag>;
  if (n.lt(l.level.min)) return <Tag kind="warn">{quantity(l.balance, l.unit)}</Tag>;
  return quantity(l.balance, l.unit);
}
