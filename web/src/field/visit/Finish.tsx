import { Button } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { timeOrDay } from "../../ui/format";
import { Mark, Tag } from "../../ui/Glyph";
import { HoursByKind } from "../../ui/HoursByKind";
import { SignatureImage } from "../../ui/SignatureImage";
import { say } from "../../words/i18n";
import { StrikeOut } from "./StrikeOut";
import { jump, VisitSection } from "./VisitSection";

const SignDialog = lazy(() => import("./SignDialog"));

/** What still keeps the visit from being complete, and the signature. */
export function Finish({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const [signing, setSigning] = useState(false);
  const signatures = view.visit.signatures?.filter((s) => !s.struck) ?? [];
  return (
    <VisitSection id="finish" title={t("ready.title")}>
      {view.missing.length === 0 && (
        <p className="line">
          <Tag kind="good">{t("ready.all")}</Tag>
        </p>
      )}
      {view.missing.map((m) =>
        m.code === "missing.signature" ? (
          <div className="line" key={m.code}>
            <Mark kind="todo" /> <span className="grow">{say(m)}</span>
          </div>
        ) : (
          <button type="button" className="line line-button" key={m.code + m.args?.sheet} onClick={(e) => jump(e, "checks")}>
            <span className="tag warn">
              <Mark kind="warn" />
            </span>
            <span className="grow">{say(m)}</span>
          </button>
        ),
      )}
      <HoursByKind hours={view.hours} />
      {view.visit.steps?.map((s) => (
        <div className="line" key={s.entry}>
          <span className={`grow${s.struck ? " struck" : ""}`}>
            {s.action === "started_task" ? t("entry.task.started") : t(`entry.visit.${s.action}`)}
            {s.task && ` · ${view.tasks.find((x) => x.id === s.task)?.name ?? ""}`} <span className="small quiet">{timeOrDay(s.at)}</span>
          </span>
          <StrikeOut
            view={view}
            entry={s.entry}
            at={s.at}
            kind={s.action === "started_task" ? "task.started" : `visit.${s.action}`}
            person={s.by ?? s.person}
            order={s.task && view.visit.order}
            struck={s.struck}
          />
        </div>
      ))}
      {signatures.map((s) => (
        <figure className="signed" key={s.entry}>
          <SignatureImage strokes={s.strokes} />
          <figcaption className="small">
            {t("sign.by", { name: s.name, role: s.role })} · {t("sign.on", { time: timeOrDay(s.at) })}{" "}
            <StrikeOut view={view} entry={s.entry} at={s.at} kind="signoff.captured" person={s.person} />
          </figcaption>
        </figure>
      ))}
      {view.changed && (
        <p>
          <Tag kind="warn">{t("sign.changed")}</Tag>
        </p>
      )}
      <Button variant={signatures.length > 0 ? "outlined" : "contained"} onClick={() => setSigning(true)} className="wide-button">
        {t(signatures.length > 0 ? "sign.again" : "sign.open")}
      </Button>
      {signing && (
        <Suspense fallback={null}>
          <SignDialog view={view} onClose={() => setSigning(false)} />
        </Suspense>
      )}
    </VisitSection>
  );
}
