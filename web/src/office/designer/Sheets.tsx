import { Button, TextField } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { sendFile } from "../../session/api";
import { May } from "../../session/May";
import { useHas, useMay } from "../../session/session";
import type { Settings, Sheet, SheetLine, SheetRule } from "../../types";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { PickFile } from "../../ui/PickFile";
import { Answer, Failure, useCommands, useKinds, useSettings, useSheets } from "../queries";
import { changeOf } from "../settings";
import { idOf } from "./draft";
import "./designer.css";

/** The check sheets there are, where new ones come from, and what work they come with. */
export function Sheets() {
  const { t } = useTranslation();
  const sheets = useSheets();
  return (
    <main className="review">
      <p className="small quiet">
        <Link to="/office/setup">{t("office.setup")}</Link>
      </p>
      <PageHead title={t("sheets.title")} />
      <Answer query={sheets}>
        {(lines) => (
          <>
            <List lines={lines} />
            <May right="record.created sheetdraft">
              <New taken={lines.map((l) => l.id)} />
            </May>
            <Rules lines={lines} />
          </>
        )}
      </Answer>
    </main>
  );
}

function List({ lines }: { lines: SheetLine[] }) {
  const { t } = useTranslation();
  const may = useMay("record.created sheetdraft");
  return (
    <table className="table">
      <thead>
        <tr>
          <th>{t("sheets.name")}</th>
          <th>{t("sheets.questions")}</th>
          <th>{t("sheets.published")}</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {lines.map((l) => (
          <tr key={l.id}>
            <td>
              {may ? (
                <Link className="strong" to={`/office/setup/sheets/${l.id}`}>
                  {l.title}
                </Link>
              ) : (
                l.title
              )}
            </td>
            <td>{l.questions}</td>
            <td>{l.version > 0 ? t("designer.version", { version: l.version }) : <span className="quiet">{t("sheets.never")}</span>}</td>
            <td>{l.draft && <Tag kind="warn">{t("sheets.draft")}</Tag>}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** A new sheet, empty or from a file. */
function New({ taken }: { taken: string[] }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const go = useNavigate();
  const [title, setTitle] = useState("");
  const begin = async (s: Sheet) => {
    const id = idOf(s.id || s.title, taken);
    await commands.mutateAsync([{ kind: "record.created", subject: { type: "sheetdraft", id }, body: { ...s, id, version: 1 } }]);
    go(`/office/setup/sheets/${id}`);
  };
  const read = useMutation({
    mutationFn: async (file: File) => begin((await sendFile("/api/office/sheetfile", {}, file)).sheet),
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void begin({ id: "", version: 1, title: title.trim(), sections: [{ title: t("designer.newSection"), questions: [] }] }).catch(() => {}); // said below
  };
  return (
    <section className="sec">
      <h2>{t("sheets.new")}</h2>
      <form className="sheets-new" onSubmit={submit}>
        <TextField label={t("designer.title")} value={title} onChange={(e) => setTitle(e.target.value)} slotProps={{ htmlInput: { maxLength: 200 } }} />
        <Button type="submit" variant="contained" disabled={!title.trim() || commands.isPending}>
          {t("sheets.create")}
        </Button>
        <PickFile label={t("sheets.import")} accept=".json,application/json" disabled={read.isPending} onFile={(file) => read.mutate(file)} />
      </form>
      <Failure error={read.error ?? commands.error} />
    </section>
  );
}

/** Which sheets come with which work. */
function Rules({ lines }: { lines: SheetLine[] }) {
  const query = useSettings();
  return <Answer query={query}>{(settings) => <RuleForm lines={lines} settings={settings} />}</Answer>;
}

function RuleForm({ lines, settings }: { lines: SheetLine[]; settings: Settings }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const kinds = useKinds().data ?? [];
  const may = useHas("administrator");
  const [had, setHad] = useState(settings); // as they were before the first change
  const [rules, changeRules] = useState<SheetRule[]>();
  const shown = rules ?? settings.sheets.rules ?? [];
  const setRules = (r?: SheetRule[]) => {
    if (!rules) setHad(settings);
    changeRules(r);
  };
  const put = (i: number, f: Partial<SheetRule>) => setRules(shown.map((r, n) => (n === i ? { ...r, ...f } : r)));
  const save = () => commands.mutate([changeOf(had, { sheets: { rules: shown } })], { onSuccess: () => setRules(undefined) });
  return (
    <section className="sec">
      <h2>
        {t("sheets.rules")} <span className="small quiet">{t("sheets.rulesHint")}</span>
      </h2>
      {!may && <p className="quiet">{t("rules.administrator")}</p>}
      <fieldset className="bare" disabled={!may}>
        {shown.map((r, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rules are told apart by their place
          <div key={i} className="rule sheets-rule">
            <select value={r.sheet} aria-label={t("sheets.name")} onChange={(e) => put(i, { sheet: e.target.value })}>
              {lines.map((l) => (
                <option key={l.id} value={l.id}>
                  {l.title}
                </option>
              ))}
            </select>
            <Several
              label={t("sheets.works")}
              all={(settings.orders.works ?? []).map((w) => [w.id, w.text])}
              chosen={r.works}
              onChange={(works) => put(i, { works })}
            />
            <Several label={t("sheets.kinds")} all={kinds.map((k) => [k.id, k.kind.name])} chosen={r.assets} onChange={(assets) => put(i, { assets })} />
            <TextField
              size="small"
              label={t("sheets.sites")}
              value={r.sites?.join(", ") ?? ""}
              onChange={(e) => put(i, { sites: e.target.value.trim() ? e.target.value.split(/[,\s]+/) : undefined })}
            />
            <button type="button" className="link small" onClick={() => setRules(shown.filter((_, n) => n !== i))}>
              {t("rule.remove")}
            </button>
          </div>
        ))}
        <p className="line sheets-foot">
          <button type="button" className="link" disabled={lines.length === 0} onClick={() => setRules([...shown, { sheet: lines[0].id }])}>
            {t("sheets.addRule")}
          </button>
          <Button variant="contained" disabled={!rules || commands.isPending} onClick={save}>
            {t("records.save")}
          </Button>
        </p>
      </fieldset>
      <Failure error={commands.error} />
    </section>
  );
}

function Several({ label, all, chosen = [], onChange }: { label: string; all: [string, string][]; chosen?: string[]; onChange: (list?: string[]) => void }) {
  const { t } = useTranslation();
  const turn = (id: string) => {
    const next = chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id];
    onChange(next.length > 0 ? next : undefined);
  };
  return (
    <details className="several">
      <summary>
        {label}: {chosen.length > 0 ? chosen.map((c) => all.find(([id]) => id === c)?.[1] ?? c).join(", ") : t("sheets.any")}
      </summary>
      {all.map(([id, name]) => (
        <label key={id} className="check">
          <input type="checkbox" checked={chosen.includes(id)} onChange={() => turn(id)} /> {name}
        </label>
      ))}
    </details>
  );
}
