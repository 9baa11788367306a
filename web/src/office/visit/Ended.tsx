/** How a visit was left: what was missing, what the office asked, who signed, the reports. */

import { Button } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useRef } from "react";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import { act } from "../../session/api";
import type { Layout, Notice, VisitPage as Page, VisitView } from "../../types";
import { bytes, timeOrDay } from "../../ui/format";
import { Mark, Tag } from "../../ui/Glyph";
import { absenceReasons, reasonText, skipReasons } from "../../ui/reasons";
import { SignatureImage } from "../../ui/SignatureImage";
import { SummaryChanges } from "../../ui/SummaryChanges";
import { say } from "../../words/i18n";
import { FlagLine } from "../Look";
import { Failure, useSettings } from "../queries";
import { Exceptions } from "../review/Exceptions";

/** What to look at first: exceptions in short, what is missing, what was flagged. */
export function FirstLook({ page, flags }: { page: Page; flags: Notice[] }) {
  const { t } = useTranslation();
  const reasons = skipReasons(useSettings().data);
  const { view } = page;
  const over = view.visit.stage === "finished";
  const lacking = over ? view.ready.lacking.filter((l) => !l.skip && l.what.code !== "missing.signature") : []; // that is among the exceptions
  const out = over ? view.ready.lacking.filter((l) => l.skip) : [];
  if (!over && flags.length === 0 && !view.changed) return null;
  return (
    <section className="sec" aria-label={t("page.flags")}>
      <h2>{t(over ? "page.exceptions" : "page.flags")}</h2>
      {over && (page.exceptions.length > 0 ? <Exceptions list={page.exceptions} /> : <p className="quiet">{t("page.none")}</p>)}
      {flags.map((f) => (
        <FlagLine key={f.code + f.person} flag={{ ...f, name: view.names[f.person] ?? f.person }} here />
      ))}
      {lacking.map((l) => (
        <p className="line" key={l.key}>
          <Mark kind="todo" /> {say(l.what)}
        </p>
      ))}
      {out.map((l) => (
        <p className="line quiet" key={l.key}>
          {say(l.what)} <span className="small">{t("ready.leftOut", { reason: reasonText(reasons, l.skip!.reason) })}</span>
        </p>
      ))}
    </section>
  );
}

export function Asked({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const all = view.visit.questions ?? [];
  if (all.length === 0) return null;
  return (
    <section className="sec" aria-label={t("asks.title")}>
      <h2>{t("asks.title")}</h2>
      {all.map((q) => (
        <div className="line" key={q.entry}>
          <span className="grow">
            <span className="pre">{q.text}</span>
            <span className="tiny quiet block">
              {view.names[q.person]} · {timeOrDay(q.at)}
            </span>
            {q.answer && (
              <>
                <span className="pre block strong">{q.answer}</span>
                <span className="tiny quiet block">
                  {view.names[q.answeredBy ?? ""]} · {q.answeredAt && timeOrDay(q.answeredAt)}
                </span>
              </>
            )}
          </span>
          <Tag kind={q.answer ? "good" : "warn"}>{t(q.answer ? "asks.answered" : "asks.waits")}</Tag>
        </div>
      ))}
    </section>
  );
}

export function Signatures({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const reasons = absenceReasons(useSettings().data);
  const all = view.visit.signatures?.filter((s) => !s.struck) ?? [];
  const absences = view.visit.absences?.filter((a) => !a.struck) ?? [];
  return (
    <section className="sec" aria-label={t("page.signature")}>
      <h2>{t("page.signature")}</h2>
      {all.length === 0 && absences.length === 0 && <p className="quiet">{t("page.unsigned")}</p>}
      {absences.map((a) => (
        <p className="line" key={a.entry}>
          <span className="grow">
            {t("absent.line", { reason: reasonText(reasons, a.reason) })}
            <span className="tiny quiet block">
              {a.name && `${a.name} · `}
              {view.names[a.person]} · {timeOrDay(a.at)}
            </span>
          </span>
        </p>
      ))}
      {all.map((s) => (
        <figure key={s.entry} className="signed">
          <SignatureImage strokes={s.strokes} />
          <figcaption>
            {t("sign.by", { name: s.name, role: s.role })} · {t("sign.on", { time: timeOrDay(s.at) })}
            <span className="tiny quiet block">{t("page.digest", { digest: s.digest.slice(0, 12) })}</span>
            <SummaryChanges changes={view.signed.find((x) => x.entry === s.entry)?.changes ?? []} />
          </figcaption>
        </figure>
      ))}
    </section>
  );
}

export function Reports({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const id = useRef(ulid()); // of the report, until it is made
  const make = useMutation({
    mutationFn: () => {
      const words = Object.fromEntries((["complete", "return_needed", "no_access", "not_needed"] as const).map((o) => [o, t(`outcome.${o}`)]));
      return act("/api/office/reports/:visit", { visit: view.id }, { id: id.current, by: "", here: {}, words, checkAt: `${location.origin}/check/` });
    },
    onSuccess: () => {
      id.current = ulid();
    },
  });
  const reports = view.visit.reports ?? [];
  return (
    <section className="sec" aria-label={t("page.reports")}>
      <h2>{t("page.reports")}</h2>
      {reports.length === 0 && <p className="quiet">{t("page.noReport")}</p>}
      {reports.map((r) => (
        <p className={`line${r.struck ? " struck" : ""}`} key={r.entry}>
          <span className="grow">
            <a href={`/api/reports/${r.entry}.pdf`} target="_blank" rel="noreferrer">
              {t(`layout.${r.layout as Layout}`)}
            </a>{" "}
            · {timeOrDay(r.at)}
            <span className="tiny quiet block">
              {t("report.code", { code: r.code })} · {bytes(r.size)} · {view.names[r.person]}
            </span>
          </span>
          <a className="small" href={`/check/${r.code}`} target="_blank" rel="noreferrer">
            {t("check.title")}
          </a>
        </p>
      ))}
      <Button disabled={make.isPending} onClick={() => make.mutate()}>
        {t("page.makeReport")}
      </Button>
      <Failure error={make.error} />
    </section>
  );
}
