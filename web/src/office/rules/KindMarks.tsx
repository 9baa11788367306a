import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Choice, KindMark, MarkColour, MarkPattern } from "../../types";
import { markClass } from "../board/kindMark";
import css from "./RuleLines.module.css";

const patterns: MarkPattern[] = ["stripes", "bars", "dots", "checks"];
const colours: MarkColour[] = ["sea", "moss", "rust", "plum", "ochre"];

interface Props {
  kinds: Choice[];
  marks: KindMark[];
  may: boolean;
  onChange: (marks: KindMark[]) => void;
}

/** How kinds of work are told apart on the board: by a word or a pattern, and a colour besides. */
export function KindMarks({ kinds, marks, may, onChange }: Props) {
  const { t } = useTranslation();
  const change = (kind: string, to: Partial<KindMark>) => {
    const mark = { ...(marks.find((m) => m.kind === kind) ?? { kind }), ...to };
    const others = marks.filter((m) => m.kind !== kind);
    onChange(mark.word || mark.pattern ? [...others, mark] : others);
  };
  return (
    <section className="sec" aria-label={t("kindMarks.title")}>
      <h2>{t("kindMarks.title")}</h2>
      <p className="small quiet">{t("kindMarks.hint")}</p>
      {kinds.length === 0 && <p className="quiet">{t("kindMarks.none")}</p>}
      {kinds.map((k) => {
        const mark = marks.find((m) => m.kind === k.id);
        return (
          <fieldset key={k.id} className={`bare ${css.line}`} disabled={!may}>
            <legend className="visually-hidden">{k.text}</legend>
            <span className="strong">
              <span className={`kind-mark ${markClass(mark)}`} aria-hidden="true" /> {k.text}
            </span>
            <TextField
              label={t("kindMarks.word")}
              value={mark?.word ?? ""}
              onChange={(e) => change(k.id, { word: e.target.value || undefined })}
              slotProps={{ htmlInput: { maxLength: 12, autoComplete: "off" } }}
            />
            <TextField
              select
              label={t("kindMarks.pattern")}
              value={mark?.pattern ?? ""}
              disabled={!may}
              onChange={(e) => change(k.id, { pattern: (e.target.value as MarkPattern) || undefined })}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            >
              <MenuItem value="">{t("kindMarks.noPattern")}</MenuItem>
              {patterns.map((p) => (
                <MenuItem key={p} value={p}>
                  {t(`kindMarks.pattern.${p}`)}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label={t("kindMarks.colour")}
              value={mark?.colour ?? ""}
              disabled={!may || !mark}
              onChange={(e) => change(k.id, { colour: (e.target.value as MarkColour) || undefined })}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            >
              <MenuItem value="">{t("kindMarks.noColour")}</MenuItem>
              {colours.map((c) => (
                <MenuItem key={c} value={c}>
                  {t(`kindMarks.colour.${c}`)}
                </MenuItem>
              ))}
            </TextField>
          </fieldset>
        );
      })}
    </section>
  );
}
