import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { rightTo, useMay } from "../../session/session";
import type { KnowHow, RecordPage } from "../../types";
import { Tag } from "../../ui/Glyph";
import { pathText } from "../../ui/troubles";
import { useQuestion } from "../commands";
import { Papers } from "../Papers";
import { Answer, Failure, useCommands, useRecordPage, useSettings } from "../queries";
import { EditKnowHow } from "./EditKnowHow";
import css from "./KnowHow.module.css";

/** Something that the company has learned, with its pictures and papers, and whether others are offered it. */
export default function KnowHowPage() {
  const { id = "" } = useParams();
  return <Answer query={useRecordPage("knowhow", id)}>{(page) => <Shown key={id} page={page} />}</Answer>;
}

function Shown({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const may = useMay(rightTo("record.amended", "knowhow"));
  const tree = useSettings().data?.troubles.tree ?? [];
  const machines = useQuestion("/api/office/kinds", {}).data ?? [];
  const [editing, setEditing] = useState(false);
  const k = page.body as KnowHow;
  const set = (body: Partial<KnowHow>) => {
    const base = Object.fromEntries(Object.keys(body).map((f) => [f, k[f as keyof KnowHow] ?? null]));
    commands.mutate([{ kind: "record.amended", subject: page.ref, body, base }]);
  };
  const hangs = [...(k.kinds ?? []).map((id) => machines.find((m) => m.id === id)?.kind.name ?? id), ...(k.troubles ?? []).map((id) => pathText(tree, id))];
  return (
    <main className="visit-page">
      <header className="visit-page-head">
        <div>
          <p className="small quiet">
            <Link to="/office/knowhow">{t("knowhow.title")}</Link>
          </p>
          <h1>{k.title}</h1>
          <p>
            {k.gone ? <Tag kind="warn">{t("knowhow.gone")}</Tag> : k.sent && <Tag kind="warn">{t("knowhow.waits")}</Tag>}{" "}
            <span className="small quiet">{hangs.join(" · ")}</span>
          </p>
        </div>
      </header>
      <div className="visit-columns">
        <div>
          <p className="pre">{k.text}</p>
          {may && (
            <p className={css.acts}>
              {k.sent && !k.gone && (
                <Button variant="contained" disabled={commands.isPending} onClick={() => set({ sent: false })}>
                  {t("knowhow.takeUp")}
                </Button>
              )}
              <Button variant="outlined" onClick={() => setEditing(true)}>
                {t("people.change")}
              </Button>
              <Button disabled={commands.isPending} onClick={() => set({ gone: !k.gone })}>
                {t(k.gone ? "knowhow.restore" : "knowhow.withdraw")}
              </Button>
            </p>
          )}
          <Failure error={commands.error} />
        </div>
        <div>
          <Papers of={page.ref} papers={(page.body as KnowHow).documents} title={t("records.papers")} hint={t("records.papersHint")} />
        </div>
      </div>
      {editing && <EditKnowHow id={page.ref.id} known={k} onClose={() => setEditing(false)} />}
    </main>
  );
}
