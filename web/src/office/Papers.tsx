import { Button } from "@mui/material";
import { type ChangeEvent, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { CoreError } from "../device/core";
import { paperTypes, prepare, refOf, upload } from "../device/files";
import { rightTo, useMay } from "../session/session";
import type { Document as Paper, RecordPage, Site } from "../types";
import { bytes } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { say } from "../words/i18n";
import { sentence, useCommands } from "./queries";

/** The office's documents about a site or a machine. */
export function Papers({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const may = useMay(rightTo("record.amended", page.ref.type));
  const papers = Object.entries(((page.body as Site).documents ?? {}) as Record<string, Paper>);
  const change = (hash: string, paper: Paper | null) =>
    commands.mutateAsync([
      {
        kind: "record.amended",
        subject: page.ref,
        body: { documents: { [hash]: paper } },
        base: { documents: { [hash]: papers.find(([h]) => h === hash)?.[1] ?? null } },
      },
    ]);
  return (
    <section className="sec">
      <h2>
        {t("records.papers")} <span className="small quiet">{t("records.papersHint")}</span>
      </h2>
      {papers.length === 0 && <p className="quiet">{t("records.noPapers")}</p>}
      {papers.map(([hash, p]) => (
        <div className="line" key={hash}>
          <span className="grow">
            <a href={`/api/files/${hash}`} target="_blank" rel="noreferrer">
              {p.name}
            </a>{" "}
            <span className="small quiet">{bytes(p.size)}</span>
          </span>
          <label className="small">
            <input
              type="checkbox"
              checked={p.pack}
              disabled={!may || commands.isPending}
              onChange={(e) => void change(hash, { ...p, pack: e.target.checked })}
            />{" "}
            {t("records.pack")}
          </label>
          {may && (
            <Button size="small" disabled={commands.isPending} onClick={() => void change(hash, null)}>
              {t("records.remove")}
            </Button>
          )}
        </div>
      ))}
      {may && <Add onAdd={(hash, paper) => change(hash, paper)} />}
    </section>
  );
}

function Add({ onAdd }: { onAdd: (hash: string, paper: Paper) => Promise<unknown> }) {
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
