import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { isoDate, longDate, shortDate, time } from "../../ui/format";
import { Glyph } from "../../ui/Glyph";
import { FindRecords } from "../customer/FindRecords";
import type { Stop } from "../stops";

const most = 30;

const fold = (s: string) => s.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** All that a visit is found by: its work, its place and its date, written out or as figures. */
const about = (s: Stop) =>
  fold(
    [
      s.order?.number,
      s.order?.problem,
      s.site?.name,
      s.site?.address,
      s.site?.contact?.name,
      longDate(s.visit.start),
      shortDate(s.visit.start),
      isoDate(s.visit.start),
    ].join(" "),
  );

/** Finds visits by text, place or date, on whatever day they are; and any customer, site or machine. */
export default function Find({ stops }: { stops: Stop[] }) {
  const { t } = useTranslation();
  const [text, setText] = useState("");
  const words = fold(text).split(/\s+/).filter(Boolean);
  const found = words.length > 0 ? stops.filter((s) => words.every((w) => about(s).includes(w))).toReversed() : [];
  return (
    <section className="find" aria-label={t("route.find")}>
      <TextField
        label={t("find.label")}
        type="search"
        value={text}
        autoFocus
        onChange={(e) => setText(e.target.value)}
        slotProps={{ htmlInput: { autoComplete: "off" } }}
      />
      <ul>
        {found.slice(0, most).map((s) => (
          <li key={s.id}>
            <Link to={`/field/visit/${s.id}?day=${isoDate(s.visit.start)}`} className="line find-line">
              <Glyph stage={s.standing.stage} />
              <span className="grow">
                <span className="strong">{s.site?.name}</span>
                <span className="small quiet block">
                  {s.order?.number} · {s.order?.problem}
                </span>
              </span>
              <span className="end small">
                {shortDate(s.visit.start)}
                <span className="block quiet">{time(s.visit.start)}</span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
      <FindRecords text={text} others={found.length} />
    </section>
  );
}
