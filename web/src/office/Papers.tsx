import { Button } from "@mui/material";
import { type ChangeEvent, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { CoreError } from "../device/core";
import { paperTypes, prepare, refOf, upload } from "../device/files";
import { rightTo, useMay } from "../session/session";
import type { Document as Paper, Ref } from "../types";
import { bytes } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { say } from "../words/i18n";
import css from "./Papers.module.css";
import { sentence, useCommands } from "./queries";

type Shown = Record<string, Paper>;

/** The office's documents about a record, such as a site, a machine or a work order. */
export function Papers({ of, papers, title, hint }: { of: Ref; papers?: Shown; title: string; hint?: string }) {
  const commands = useCommands();
  const may = useMay(rightTo("record.amended", of.type as "site"));
  const change = (hash: string, paper: Paper | null) =>
    commands.mutateAsync([
      { kind: "record.amended", subject: of, body: { documents: { [hash]: paper } }, base: { documents: { [hash]: papers?.[hash] ?? null } } },
    ]);
  return (
    <section className="sec" aria-label={title}>
      <h2>
        {title} {hint && <span className="small quiet">{hint}</span>}
      </h2>
      <PaperLines papers={papers} may={may} busy={commands.isPending} onChange={change} />
    </section>
  );
}

interface LinesProps {
  papers?: Shown;
  may: boolean;
  busy?: boolean;
  /** null takes it out */
  onChange: (hash: string, paper: Paper | null) => unknown;
}

/** Papers by name, pictures to be seen, with a way to add more. */
export function PaperLines({ papers, may, busy, onChange }: LinesProps) {
  const { t } = useTranslation();
  const all = Object.entries(papers ?? {});
  return (
    <>
      {all.length === 0 && <p className="quiet">{t("records.noPapers")}</p>}
      {all.map(([hash, p]) => (
        <div className="line" key={hash}>
          <span className="grow">
            <a href={`/api/files/${hash}`} target="_blank" rel="noreferrer">
              {p.type.startsWith("image/") && <img className={css.thumb} src={`/api/files/${hash}?thumb`} alt="" loading="lazy" />}
              {p.name}
            </a>{" "}
            <span className="small quiet">{bytes(p.size)}</span>
          </span>
          <label className="small">
            <input type="checkbox" checked={p.pack} disabled={!may || busy} onChange={(e) => void onChange(hash, { ...p, pack: e.target.checked })} />{" "}
            {t("records.pack")}
          </label>
          {may && (
            <Button size="small" disabled={busy} aria-label={t("records.removePaper", { name: p.name })} onClick={() => void onChange(hash, null)}>
              {t("records.remove")}
            </Button>
          )}
        </div>
      ))}
      {may && <Add onAdd={onChange} />}
    </>
  );
}

function Add({ onAdd }: { onAdd: (hash: string, paper: Paper) => unknown }) {
  const { t } = useTranslation();
  const picker = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState("");
  const [wrong, setWrong] = useState("");
  const add = async (e: ChangeEvent<HTMLInputElement>) => {
    const picked = [...(e.target.files ?? [])];
    e.target.value = "";
    setWrong("");
    for (const p of picked) {
      setSending(p.name);
      try {
        const file = await prepare(p);
        await upload(file);
        const { hash, ...rest } = refOf(file);
        await onAdd(hash, { ...rest, pack: true });
      } catch (problem) {
        setWrong(problem instanceof CoreError ? say(problem.code) : sentence(problem));
      }
    }
    setSending("");
  };
  return (
    <p className="line">
      <Button variant="outlined" disabled={!!sending} onClick={() => picker.current?.click()}>
        {t("records.add")}
      </Button>
      <input ref={picker} hidden type="file" accept={paperTypes} multiple onChange={add} aria-label={t("records.add")} />
      <span role="status">{sending && t("records.sending", { name: sending })}</span>
      <span role="alert">{wrong && <Tag kind="bad">{wrong}</Tag>}</span>
    </p>
  );
}
