import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { rightTo, useMay } from "../../session/session";
import type { KnowHowLine } from "../../types";
import { Empty } from "../../ui/Empty";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { pathText } from "../../ui/troubles";
import { useQuestion } from "../commands";
import { Answer, useSettings } from "../queries";
import { EditKnowHow } from "./EditKnowHow";

/** What the company has learned: what was sent in and waits first. */
export default function KnowHowList() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const may = useMay(rightTo("record.created", "knowhow"));
  const [writing, setWriting] = useState(false);
  return (
    <main className="review">
      <PageHead title={t("knowhow.title")} hint={t("knowhow.listHint")}>
        {may && (
          <Button variant="contained" onClick={() => setWriting(true)}>
            {t("knowhow.new")}
          </Button>
        )}
      </PageHead>
      <Answer query={useQuestion("/api/office/knowhow", {})}>
        {(lines) => (lines.length === 0 ? <Empty>{t("knowhow.empty")}</Empty> : lines.map((l) => <Line key={l.id} line={l} />))}
      </Answer>
      {writing && <EditKnowHow onClose={(id) => (id ? navigate(`/office/knowhow/${id}`) : setWriting(false))} />}
    </main>
  );
}

function Line({ line: l }: { line: KnowHowLine }) {
  const { t } = useTranslation();
  const tree = useSettings().data?.troubles.tree ?? [];
  return (
    <div className="line">
      <span className="grow">
        <Link to={`/office/knowhow/${l.id}`} className={l.gone ? "quiet" : "strong"}>
          {l.title}
        </Link>
        <span className="small quiet block">{(l.troubles ?? []).map((id) => pathText(tree, id)).join(" · ")}</span>
      </span>
      {l.sent && !l.gone && <Tag kind="warn">{t("knowhow.by", { person: l.name })}</Tag>}
      {l.gone && <span className="small quiet">{t("knowhow.gone")}</span>}
    </div>
  );
}
