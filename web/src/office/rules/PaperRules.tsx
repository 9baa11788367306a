import { Button, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { hashOf, upload } from "../../device/files";
import type { Layout, ReportSettings } from "../../types";
import { Tag } from "../../ui/Glyph";
import { PickFile } from "../../ui/PickFile";
import { say } from "../../words/i18n";
import { sentence } from "../queries";

export type Paper = ReportSettings & { prices: boolean; signers: string[] };

const layouts: Layout[] = ["full", "short", "photos"];
const largestLogo = 300 << 10;

/** What reports and signatures look like. */
export function PaperRules({ paper, onChange }: { paper: Paper; onChange: (p: Paper) => void }) {
  const { t } = useTranslation();
  const set = (change: Partial<Paper>) => onChange({ ...paper, ...change });
  const lines = (text: string) => text.split("\n");
  const kept = (list: string[] | undefined) => (list ?? []).join("\n");
  return (
    <section className="sec form-stack">
      <h2>{t("rules.report")}</h2>
      <Logo paper={paper} onChange={set} />
      <TextField
        label={t("rules.lines")}
        value={kept(paper.lines)}
        multiline
        minRows={2}
        onChange={(e) => set({ lines: lines(e.target.value) })}
        onBlur={() => set({ lines: (paper.lines ?? []).filter((l) => l.trim()) })}
      />
      <TextField select label={t("rules.layout")} value={paper.layout || "full"} onChange={(e) => set({ layout: e.target.value })}>
        {layouts.map((l) => (
          <MenuItem key={l} value={l}>
            {t(`layout.${l}`)}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label={t("rules.intro")}
        value={paper.intro ?? ""}
        multiline
        onChange={(e) => set({ intro: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
      />
      <TextField
        label={t("rules.close")}
        value={paper.close ?? ""}
        multiline
        onChange={(e) => set({ close: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
      />
      <TextField
        label={t("rules.checkAt")}
        value={paper.checkAt ?? ""}
        onChange={(e) => set({ checkAt: e.target.value })}
        placeholder={`${location.origin}/check/`}
      />
      <TextField
        label={t("rules.signers")}
        value={kept(paper.signers)}
        multiline
        minRows={2}
        onChange={(e) => set({ signers: lines(e.target.value) })}
        onBlur={() => set({ signers: paper.signers.filter((l) => l.trim()) })}
      />
      <label>
        <input type="checkbox" checked={paper.prices} onChange={(e) => set({ prices: e.target.checked })} /> {t("rules.prices")}
      </label>
    </section>
  );
}

function Logo({ paper, onChange }: { paper: Paper; onChange: (change: Partial<Paper>) => void }) {
  const { t } = useTranslation();
  const [wrong, setWrong] = useState("");
  const take = async (file: File) => {
    setWrong("");
    if (file.type !== "image/png" && file.type !== "image/jpeg") return setWrong(say({ code: "settings.logo" }));
    if (file.size > largestLogo) return setWrong(say({ code: "settings.logo_size", args: { max: "300" } }));
    const picture = await createImageBitmap(file).catch(() => undefined); // a name says nothing of what is in it
    if (!picture) return setWrong(say({ code: "settings.logo" }));
    picture.close();
    try {
      const hash = await hashOf(file);
      await upload({ hash, name: file.name, type: file.type, size: file.size, blob: file, state: "waiting", at: Date.now() });
      onChange({ logo: { hash, type: file.type, size: file.size } });
    } catch (e) {
      setWrong(sentence(e));
    }
  };
  return (
    <div className="line">
      {paper.logo && <img className="logo" src={`/api/files/${paper.logo.hash}`} alt={t("rules.logo")} />}
      <span className="grow small quiet">{t("rules.logo")}</span>
      <PickFile label={t("rules.pickLogo")} accept="image/png,image/jpeg" onFile={(file) => void take(file)} />
      {paper.logo && <Button onClick={() => onChange({ logo: undefined })}>{t("rules.dropLogo")}</Button>}
      <span role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</span>
    </div>
  );
}
