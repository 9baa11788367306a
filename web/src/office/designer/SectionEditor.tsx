import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Repeat, Section } from "../../types";
import { useKinds } from "../queries";
import type { Chosen } from "./Designer";
import { type Draft, idOf, withSection } from "./draft";
import { ConditionEditor } from "./Rules";

interface Props {
  draft: Draft;
  index: number;
  section: Section;
  onChoose: (c: Chosen) => void;
}

export function SectionEditor({ draft, index, section, onChoose }: Props) {
  const { t } = useTranslation();
  const { sheet, change } = draft;
  const kinds = useKinds().data ?? [];
  const put = (f: (x: Section) => Section) => change((s) => withSection(s, index, f));
  const repeat = (r: Partial<Repeat> | undefined) =>
    put((x) => ({
      ...x,
      id:
        x.id ||
        idOf(
          x.title,
          sheet.sections.flatMap((o) => (o.id ? [o.id] : [])),
        ),
      repeat: r && { ...(x.repeat ?? { noun: t("designer.room") }), ...r },
    }));
  const swap = (by: number) => {
    change((s) => {
      const list = [...s.sections];
      [list[index], list[index + by]] = [list[index + by], list[index]];
      return { ...s, sections: list };
    });
    onChoose({ section: index + by });
  };
  const r = section.repeat;
  return (
    <>
      <h2>{t("designer.section")}</h2>
      <TextField
        label={t("designer.title")}
        value={section.title}
        onChange={(e) => put((x) => ({ ...x, title: e.target.value }))}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <label className="check">
        <input type="checkbox" checked={!!r} onChange={(e) => repeat(e.target.checked ? {} : undefined)} /> {t("designer.repeats")}
      </label>
      {r && (
        <div className="editor-row">
          <TextField label={t("designer.noun")} value={r.noun} onChange={(e) => repeat({ noun: e.target.value })} />
          <TextField
            label={t("designer.least")}
            value={r.least ?? ""}
            onChange={(e) => /^\d{0,2}$/.test(e.target.value) && repeat({ least: Number(e.target.value) || undefined })}
            slotProps={{ htmlInput: { inputMode: "numeric" } }}
          />
          <label className="check">
            <input type="checkbox" checked={!!r.assets} onChange={(e) => repeat({ assets: e.target.checked || undefined, kind: undefined })} />{" "}
            {t("designer.eachMachine")}
          </label>
          {r.assets && (
            <TextField select label={t("kinds.title")} value={r.kind ?? ""} onChange={(e) => repeat({ kind: e.target.value || undefined })}>
              <MenuItem value="">{t("designer.allKinds")}</MenuItem>
              {kinds.map((k) => (
                <MenuItem key={k.id} value={k.id}>
                  {k.kind.name}
                </MenuItem>
              ))}
            </TextField>
          )}
        </div>
      )}
      <ConditionEditor label={t("designer.showIf")} sheet={sheet} section={index} value={section.showIf} onChange={(c) => put((x) => ({ ...x, showIf: c }))} />
      <p className="editor-foot">
        <button type="button" className="link" disabled={index === 0} onClick={() => swap(-1)}>
          {t("designer.up")}
        </button>
        <button type="button" className="link" disabled={index === sheet.sections.length - 1} onClick={() => swap(1)}>
          {t("designer.down")}
        </button>
        <button
          type="button"
          className="link"
          onClick={() => {
            change((s) => ({ ...s, sections: s.sections.filter((_, i) => i !== index) }));
            onChoose(undefined);
          }}
        >
          {t("designer.removeSection")}
        </button>
      </p>
    </>
  );
}
