import { Button, TextField } from "@mui/material";
import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import { CoreError, core, letCoreLoad } from "../../device/core";
import { useCore } from "../../field/device";
import { SheetForm } from "../../sheet/SheetForm";
import { keyOf, type SheetSource, SheetSourceProvider } from "../../sheet/source";
import type { Around, Answer as Given, Question, Sheet, SheetItem, SheetProgress, Visit } from "../../types";
import { isNumber, typedNumber } from "../../ui/decimal";
import { price } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { say } from "../../words/i18n";
import { useCurrency } from "../queries";

letCoreLoad();

/** The test answers: a visit that nobody is on, and that nothing is recorded of. */
interface Test {
  answers: Record<string, Given>;
  items: SheetItem[];
  photos: Record<string, number>;
  readings: Record<string, string>;
}

const none: Test = { answers: {}, items: [], photos: {}, readings: {} };

const around: Around = {
  order: {
    number: "4127",
    customer: "C",
    site: "S",
    asset: "A",
    problem: "No pressure on the upper line",
    priority: "soon",
    minutes: 60,
    openedAt: "2026-01-01T00:00:00Z",
    openedBy: "p",
  },
  customer: { name: "Vella Sound Water Board", contact: { name: "Ruan Keast" } },
  site: {
    customer: "C",
    name: "Orrisk Pump House 3",
    address: "12 Slip Lane, Orrisk",
    access: "Key at the gatehouse",
    contact: { name: "Ruan Keast", phone: "+353 1 555 0100" },
  },
  asset: { site: "S", name: "Booster set", kind: "booster", maker: "Aldane", serial: "Al-00417", installed: "2019-05-01" },
  assets: { A: { site: "S", name: "Booster set", kind: "booster" }, B: { site: "S", name: "Dosing unit", kind: "dosing" } },
  told: [],
};

let asked = 0;

/** How the sheet looks and works on the phone: the same form, on the same core, with test answers. */
export function Preview({ sheet }: { sheet: Sheet }) {
  const { t } = useTranslation();
  const [test, setTest] = useState(none);
  const source = useTest(sheet, test, setTest);
  return (
    <aside className="preview" aria-label={t("designer.preview")}>
      <p className="small quiet preview-head">
        <span>{t("designer.preview")}</span>
        <button type="button" className="link small" onClick={() => setTest(none)}>
          {t("designer.clear")}
        </button>
      </p>
      <div className="preview-phone field">
        {source ? (
          <SheetSourceProvider value={source}>
            <h3>{sheet.title}</h3>
            <p className="small quiet">{t("checks.progress", { ...source.state })}</p>
            <SheetForm />
            <Result source={source} />
          </SheetSourceProvider>
        ) : (
          <p className="empty">{t("office.loading")}</p>
        )}
      </div>
    </aside>
  );
}

function Result({ source: { state, currency } }: { source: SheetSource }) {
  const { t } = useTranslation();
  const lacks = state.missing.length + state.blocks.length;
  return (
    <div className="preview-result small">
      {state.amount && (
        <p>
          {t("sheet.total")} <b>{price(state.amount, currency)}</b>
        </p>
      )}
      {state.score && (
        <p>
          {t("sheet.score", { points: state.score.points, of: state.score.of })} <b>{state.score.percent} %</b>
        </p>
      )}
      <p>{lacks > 0 ? <Tag kind="warn">{t("sheet.lacks", { count: lacks })}</Tag> : <Tag kind="good">{t("sheet.allThere")}</Tag>}</p>
    </div>
  );
}

function useTest(sheet: Sheet, test: Test, setTest: (f: (x: Test) => Test) => void): SheetSource | undefined {
  const { t } = useTranslation();
  const ready = useCore();
  const currency = useCurrency();
  return useMemo(() => {
    if (!ready) return undefined;
    const ref = `${sheet.id}@${sheet.version}`; // as the answers name it
    const state = ask(sheet, visitOf(sheet, ref, test));
    if (!state) return undefined;
    const answer = async (q: Question, item: string | undefined, value: string, note?: string) => {
      try {
        const canonical = core("answer", { question: q, value }).value;
        const key = keyOf(q.id, item);
        setTest((x) => ({
          ...x,
          answers: { ...x.answers, [key]: { entry: "", at: new Date().toISOString(), person: "", value: canonical, note: note ?? x.answers[key]?.note } },
        }));
        return true;
      } catch (e) {
        if (!(e instanceof CoreError)) throw e;
        return false;
      }
    };
    return {
      name: `preview ${ref}`,
      sheet,
      state,
      answers: test.answers,
      currency,
      areas: {},
      answer,
      repeat: async (_, item) => setTest((x) => ({ ...x, items: x.items.map((i) => (i.id === item.id ? item : i)) })),
      copy: async (section, name, from) => {
        setTest((x) => {
          const id = ulid().toLowerCase();
          const copied = Object.fromEntries(
            section.questions.flatMap((q) => (from && x.answers[keyOf(q.id, from.id)] ? [[keyOf(q.id, id), x.answers[keyOf(q.id, from.id)]]] : [])),
          );
          return {
            ...x,
            answers: { ...x.answers, ...copied },
            items: [...x.items, { entry: id, at: "2026-01-01T00:00:00Z", person: "", section: section.id ?? "", id, name }],
          };
        });
        return true;
      },
      catalogue: async () => ({ parts: sample, kits: [] }),
      photos: (q, item) => {
        const key = keyOf(q.id, item);
        return (
          <Button variant="outlined" onClick={() => setTest((x) => ({ ...x, photos: { ...x.photos, [key]: (x.photos[key] ?? 0) + 1 } }))}>
            {t("photos.take")} {test.photos[key] ? `(${test.photos[key]})` : ""}
          </Button>
        );
      },
      reading: (q) => (
        <TextField
          label={`${q.text} ${q.unit ?? ""}`}
          value={test.readings[q.point ?? ""] ?? ""}
          onChange={(e) => /^-?\d*[.,]?\d*$/.test(e.target.value) && setTest((x) => ({ ...x, readings: { ...x.readings, [q.point ?? ""]: e.target.value } }))}
        />
      ),
      strike: () => null,
      strikeItem: () => null,
      paper: (q) => q.document && <span className="link">{q.document.name}</span>,
    };
  }, [ready, sheet, test, setTest, currency, t]);
}

/** A draft changes from one question to the next, so its document goes with each. */
function ask(sheet: Sheet, visit: Visit): SheetProgress | undefined {
  asked++;
  try {
    return core("fill", { ref: "draft@1", as: asked, sheet, visit, around }).state;
  } catch (e) {
    if (e instanceof CoreError) console.warn(say(e.code));
    return undefined;
  }
}

function visitOf(sheet: Sheet, ref: string, test: Test): Visit {
  const at = "2026-01-01T08:00:00Z";
  return {
    order: "W",
    technician: "p",
    start: at,
    minutes: 60,
    stage: "on_site",
    since: at,
    answers: { [ref]: test.answers },
    items: { [ref]: test.items },
    files: Object.entries(test.photos).flatMap(([key, n]) => {
      const [question, item] = key.split("@");
      return Array.from({ length: n }, (_, i) => ({
        entry: `${key}${i}`,
        at,
        person: "",
        hash: "",
        name: "",
        type: "",
        size: 1,
        about: { sheet: ref, question, item },
      }));
    }),
    readings: Object.entries(test.readings).flatMap(([point, value]) => {
      const unit = sheet.sections.flatMap((s) => s.questions).find((q) => q.point === point)?.unit ?? "";
      return isNumber(value) ? [{ entry: point, at, person: "", asset: "A", point, value: typedNumber(value), unit, level: "ok" as const }] : [];
    }),
  };
}

const sample = [
  { id: "SK-38", body: { number: "SK-38", name: "Mechanical seal kit 38 mm", unit: "each", price: "84.50" } },
  { id: "EP-02", body: { number: "EP-02", name: "Floor coating, two coats", unit: "m²", price: "19.90" } },
];
