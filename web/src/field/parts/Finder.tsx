/** Finds parts by text, category or label. What a label says goes straight to whoever asked; what no label says is told. */
import { Button, MenuItem, TextField } from "@mui/material";
import { lazy, type ReactNode, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { type Item, nameOf, numberOf } from "../../catalogue/catalogue";
import { useTurns } from "../../ui/turns";
import { useWedge } from "../../ui/wedge";
import { readCode } from "./useBasket";
import { useCatalogue } from "./useCatalogue";

const Camera = lazy(() => import("../../ui/Scan").then((m) => ({ default: m.Camera })));

interface Props {
  /** keys of items that come first */
  first: string[];
  /** whether the camera is on from the start */
  scanning?: boolean;
  /** what was typed before */
  text?: string;
  /** a code that was scanned before */
  code?: string;
  kits?: boolean;
  /** what is said at the end of an item's line */
  about: (item: Item) => string;
  onPick: (item: Item, serial?: string) => void;
  /** what can be done with a code that nobody knows */
  unknown?: (code: string) => ReactNode;
}

/** How long a search took, for make bench. */
const searchMeasure = "iter.search";

/** A label that stays in view is told once: it must have been away this long to be told again. */
const away = 2500;

export function Finder({ first, scanning, text = "", code: before, kits, about, onPick, unknown }: Props) {
  const { t } = useTranslation();
  const catalogue = useCatalogue();
  const [find, setFind] = useState(text);
  const [category, setCategory] = useState("");
  const [camera, setCamera] = useState(!!scanning);
  const [lost, setLost] = useState<{ code: string; instead?: Item; some?: Item[] }>();
  const seen = useRef({ code: "", at: 0 });
  const scanned = useTurns(!!catalogue, (text: string) => {
    const code = readCode(text);
    const some = code ? (catalogue?.withCode(code.key) ?? []).filter((i) => kits || i.part) : [];
    const retired = some.length === 1 && some[0].part?.retired;
    if (some.length === 1 && !retired) {
      setLost(undefined);
      onPick(some[0], code?.serial);
    } else
      setLost({
        code: code?.key ?? text.trim(),
        instead: retired ? catalogue?.item(`part ${some[0].part?.replacedBy}`) : undefined,
        some: retired ? undefined : some,
      });
  });
  const looked = (text: string) => {
    const again = text === seen.current.code && Date.now() - seen.current.at < away;
    seen.current = { code: text, at: Date.now() };
    if (!again) scanned(text);
  };
  useWedge(scanned);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it was scanned once
  useEffect(() => {
    if (before) scanned(before);
  }, []);
  const usual = first.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what comes first is the same list as long as it says the same
  const found = useMemo(() => {
    const began = performance.now();
    const all = (catalogue?.find(find, { category, first }) ?? []).filter((i) => kits || i.part);
    performance.measure(searchMeasure, { start: began });
    return all;
  }, [catalogue, find, category, usual, kits]);
  const enter = () => {
    if (!catalogue) return;
    const code = readCode(find);
    if (code && catalogue?.withCode(code.key).length) scanned(find);
    else if (found.length > 0) onPick(found[0]);
    else if (find.trim()) scanned(find);
    setFind("");
  };
  const pick = (i: Item) => {
    onPick(i);
    setLost(undefined);
    setFind("");
  };
  return (
    <>
      <div className="finder">
        <TextField
          label={t("parts.find")}
          value={find}
          onChange={(e) => setFind(e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && enter()}
          autoFocus={!scanning}
          slotProps={{ htmlInput: { autoComplete: "off", type: "search", enterKeyHint: "done" } }}
        />
        <Button variant="outlined" aria-pressed={camera} onClick={() => setCamera(!camera)}>
          {t(camera ? "parts.scanOff" : "parts.scan")}
        </Button>
      </div>
      {camera && (
        <Suspense fallback={<p className="small quiet">{t("scan.starting")}</p>}>
          <Camera onText={looked} />
        </Suspense>
      )}
      {lost && (
        <div className="finder-lost" role="alert">
          <p>{t(lost.some && lost.some.length > 1 ? "parts.several" : lost.instead ? "parts.retired" : "parts.unknown", { code: lost.code })}</p>
          {lost.some?.map((i) => (
            <button type="button" className="choice" key={i.key} onClick={() => pick(i)}>
              {nameOf(i)}
            </button>
          ))}
          {lost.instead && (
            <Button variant="outlined" onClick={() => pick(lost.instead!)}>
              {t("parts.instead", { part: nameOf(lost.instead) })}
            </Button>
          )}
          {!lost.instead && !lost.some?.length && unknown?.(lost.code)}
        </div>
      )}
      {(!camera || find) && (
        <>
          {catalogue && catalogue.categories.length > 1 && (
            <TextField select label={t("parts.category")} value={category} onChange={(e) => setCategory(e.target.value)}>
              <MenuItem value="">{t("parts.allCategories")}</MenuItem>
              {catalogue.categories.map((c) => (
                <MenuItem key={c} value={c}>
                  {c}
                </MenuItem>
              ))}
            </TextField>
          )}
          <ul className="scroll">
            {found.map((i) => (
              <li key={i.key}>
                <button type="button" className="choice" onClick={() => pick(i)}>
                  <span>
                    <span className="strong">{nameOf(i)}</span>
                    <span className="tiny quiet block">
                      {numberOf(i)}
                      {i.kit && ` · ${t("sheet.kit")}`}
                    </span>
                  </span>
                  <span className="small quiet nowrap">{about(i)}</span>
                </button>
              </li>
            ))}
            {catalogue && found.length === 0 && <li className="empty">{t("parts.noMatch")}</li>}
          </ul>
        </>
      )}
    </>
  );
}
