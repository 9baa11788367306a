import { DialogContent } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useLocation } from "react-router";
import { LayerDialog } from "../ui/Layers";
import type { Word } from "../words/i18n";
import css from "./Keys.module.css";

type Line = readonly [keys: string, what: Word];

/** Keys that every screen has. */
const everywhere: Line[] = [
  ["/  Ctrl K", "keys.find"],
  ["Ctrl Z", "keys.undo"],
  ["w n b m r p h o s", "keys.menu"],
  ["Tab", "keys.tab"],
  ["Esc", "keys.escape"],
  ["?", "keys.help"],
];

/** Keys of some screens, by the beginning of their address. */
const screens: [RegExp, Line[]][] = [
  [
    /^\/office\/?$/,
    [
      ["↓  ↑", "keys.waits"],
      ["1  5", "keys.take"],
      ["← → ↑ ↓", "keys.steer"],
      ["+  -", "keys.longer"],
      ["Enter", "keys.place"],
    ],
  ],
  [
    /^\/office\/review\/(?!attention|unsigned|messages)./,
    [
      ["j", "keys.next"],
      ["k", "keys.previous"],
      ["a", "keys.approve"],
      ["q", "keys.ask"],
    ],
  ],
  [
    /^\/office\/lists\//,
    [
      ["← ↑ ↓ →", "keys.cells"],
      ["Enter", "keys.openCell"],
      ["Shift Space", "keys.pick"],
      ["Ctrl A", "keys.pickAll"],
    ],
  ],
  [
    /^\/office\/intake/,
    [
      ["Enter", "keys.first"],
      ["Ctrl Enter", "keys.open"],
    ],
  ],
];

/** Tells the keys of the screen, when ? is pressed outside a field. */
export function Keys() {
  const { t } = useTranslation();
  const { pathname } = useLocation();
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.key !== "?" || (e.target as HTMLElement).closest("input, textarea, select, [contenteditable], [role=dialog]")) return;
      e.preventDefault();
      setOpen(true);
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
  if (!open) return null;
  const here = screens.find(([at]) => at.test(pathname))?.[1] ?? [];
  return (
    <LayerDialog onClose={() => setOpen(false)} aria-labelledby="keys-title">
      <DialogContent>
        <h1 id="keys-title" className={css.title}>
          {t("keys.title")}
        </h1>
        {here.length > 0 && <List title={t("keys.here")} lines={here} />}
        <List title={t("keys.everywhere")} lines={everywhere} />
      </DialogContent>
    </LayerDialog>
  );
}

function List({ title, lines }: { title: string; lines: readonly Line[] }) {
  const { t } = useTranslation();
  return (
    <section>
      <h2 className={css.section}>{title}</h2>
      <dl className={css.keys}>
        {lines.map(([keys, what]) => (
          <div key={what}>
            <dt>
              {keys.split(/ {2}/).map((k) => (
                <kbd key={k}>{k}</kbd>
              ))}
            </dt>
            <dd>{t(what)}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
