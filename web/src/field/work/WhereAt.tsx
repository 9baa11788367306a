import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { plain } from "../../catalogue/wordIndex";
import { useLive } from "../../device/live";
import { most, type Place } from "../customer/directoryIndex";
import { useDirectory } from "../customer/useDirectory";
import { useDevice } from "../device";
import { NewcomerFields } from "./NewcomerFields";
import type { Newcomer } from "./newcomer";

interface Props {
  place?: Place;
  newcomer?: Newcomer;
  onPlace: (place?: Place) => void;
  onNewcomer: (newcomer?: Newcomer) => void;
}

/** How many are shown of what matches: what is to be done stays in reach. */
const shown = 6;

/** Where found work is: at a site or a machine of the directory, or with somebody nobody knows yet. */
export function WhereAt({ place, newcomer, onPlace, onNewcomer }: Props) {
  const { t } = useTranslation();
  if (newcomer) return <NewcomerFields value={newcomer} onChange={onNewcomer} />;
  if (!place) return <Search onPlace={onPlace} onNewcomer={(name) => onNewcomer({ customer: name })} />;
  return (
    <p className="line">
      <span className="grow">
        <b>{place.name}</b>
        <span className="small quiet block">{place.line}</span>
      </span>
      <button type="button" className="link" onClick={() => onPlace()}>
        {t("found.elsewhere")}
      </button>
    </p>
  );
}

function Search({ onPlace, onNewcomer }: { onPlace: (place: Place) => void; onNewcomer: (name: string) => void }) {
  const { t } = useTranslation();
  const [text, setText] = useState("");
  const found = useWhere(text);
  return (
    <section className="where-at">
      <TextField
        fullWidth
        type="search"
        label={t("found.where")}
        value={text}
        onChange={(e) => setText(e.target.value)}
        slotProps={{ htmlInput: { autoComplete: "off", maxLength: 200 } }}
      />
      <ul>
        {found.slice(0, shown).map((p) => (
          <li key={`${p.type} ${p.id}`}>
            <button type="button" className="choice" onClick={() => onPlace(p)}>
              <span className="grow">
                <span className="strong">{p.name}</span>
                <span className="small quiet block">{p.line}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {found.length > shown && <p className="small quiet">{t("found.more", { count: shown })}</p>}
      <button type="button" className="link" onClick={() => onNewcomer(/\d/.test(text) ? "" : text.trim())}>
        {t("found.newcomer")}
      </button>
    </section>
  );
}

/** Sites and machines that match what is typed; with nothing typed, the sites on this phone. */
function useWhere(text: string): Place[] {
  const { db } = useDevice();
  const directory = useDirectory();
  const here =
    useLive(
      db,
      async (db) => {
        const sites = await db.all("site");
        const customers = await db.bodies(
          "customer",
          sites.map((s) => s.body.customer),
        );
        return sites.map(({ id, body }, i): Place => {
          const line = [customers[i]?.name, body.address].filter((x) => x && x !== body.name).join(" · ");
          return { type: "site", id, name: body.name, line, customer: body.customer, site: id };
        });
      },
      [],
    ) ?? [];
  const wanted = plain(text).split(/\s+/).filter(Boolean);
  const own = here.filter((p) => wanted.every((w) => plain(`${p.name} ${p.line}`).includes(w))).sort((a, b) => a.name.localeCompare(b.name));
  if (wanted.length === 0) return own.slice(0, most);
  const known = (directory?.index.find(text) ?? []).filter((p) => p.type !== "customer");
  return [...known, ...own.filter((p) => !known.some((k) => k.id === p.id))].slice(0, most);
}
