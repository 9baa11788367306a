import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useNavigate } from "react-router";
import { rightTo, useMay } from "../../session/session";
import { Empty } from "../../ui/Empty";
import { PageHead } from "../../ui/PageHead";
import { useQuestion } from "../commands";
import { Answer } from "../queries";
import { EditUndertaking } from "./EditUndertaking";

/** The undertakings that whoever looks may see: several work orders under one name. */
export default function Undertakings() {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const may = useMay(rightTo("record.created", "undertaking"));
  const [writing, setWriting] = useState(false);
  return (
    <main className="review">
      <PageHead title={t("undertaking.all")} hint={t("undertaking.hint")}>
        {may && (
          <Button variant="contained" onClick={() => setWriting(true)}>
            {t("undertaking.new")}
          </Button>
        )}
      </PageHead>
      <Answer query={useQuestion("/api/office/undertakings", {})}>
        {(lines) =>
          lines.length === 0 ? (
            <Empty>{t("undertaking.empty")}</Empty>
          ) : (
            lines.map((l) => (
              <div className="line" key={l.id}>
                <span className="grow">
                  <Link to={`/office/undertakings/${l.id}`} className={l.done ? "quiet" : "strong"}>
                    {l.name}
                  </Link>
                  <span className="small quiet block">{[l.by, l.done && t("undertaking.done")].filter(Boolean).join(" · ")}</span>
                </span>
                <span className="small">{t("undertaking.orders", { count: l.orders })}</span>
              </div>
            ))
          )
        }
      </Answer>
      {writing && <EditUndertaking onClose={(id) => (id ? navigate(`/office/undertakings/${id}`) : setWriting(false))} />}
    </main>
  );
}
