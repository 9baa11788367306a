/** Anyone who has a report can check here that it is as it was made: by the code on it, or by the file. */

import { Button, TextField } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { get, sendFile } from "../session/api";
import { ApiError } from "../session/session";
import type { CheckedReport } from "../types";
import { longDate, time } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { PickFile } from "../ui/PickFile";
import { say } from "../words/i18n";
import "./check.css";

type Found = { by: "code" | "file"; report: CheckedReport };

export default function CheckPage() {
  const { t } = useTranslation();
  const [code, setCode] = useState(() => decodeURIComponent(location.pathname.split("/")[2] ?? ""));
  const [found, setFound] = useState<Found>();
  const [wrong, setWrong] = useState("");
  const look = async (by: Found["by"], question: Promise<CheckedReport>) => {
    setWrong("");
    setFound(undefined);
    try {
      setFound({ by, report: await question });
    } catch (e) {
      setWrong(say(e instanceof ApiError ? e.problem : { code: "unreadable" }));
    }
  };
  const byCode = (typed: string) => look("code", get("/api/check/:code", { code: typed.trim() }));
  // biome-ignore lint/correctness/useExhaustiveDependencies: the code in the address, once
  useEffect(() => {
    if (code) void byCode(code);
  }, []);
  return (
    <main className="check-page">
      <p className="check-name">{t("app.name")}</p>
      <h1>{t("check.title")}</h1>
      <p className="quiet">{t("check.hint")}</p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (code.trim()) void byCode(code);
        }}
      >
        <TextField
          label={t("check.code")}
          value={code}
          onChange={(e) => setCode(e.target.value)}
          slotProps={{ htmlInput: { autoComplete: "off", spellCheck: false } }}
        />
        <Button type="submit" variant="contained" disabled={!code.trim()}>
          {t("check.go")}
        </Button>
      </form>
      <PickFile label={t("check.file")} accept="application/pdf" onFile={(file) => void look("file", sendFile("/api/check", {}, file))} />
      <div role="status">
        {wrong && <Tag kind="bad">{wrong}</Tag>}
        {found && <Verdict found={found} />}
      </div>
    </main>
  );
}

function Verdict({ found: { by, report: r } }: { found: Found }) {
  const { t } = useTranslation();
  if (!r.known) return <Tag kind="bad">{t("check.unknown")}</Tag>;
  const good = by === "code" || r.same;
  return (
    <section className={`verdict ${good ? "good" : "bad"}`}>
      <p className="strong">
        <Tag kind={good ? "good" : "bad"}>{t(by === "code" ? "check.known" : r.same ? "check.same" : "check.changed")}</Tag>
      </p>
      {by === "code" && <p className="small">{t("check.knownHint")}</p>}
      <p>
        {r.firm} · {t("visit.order", { number: r.order })} · {r.site}
      </p>
      <p>
        {t("check.made", { time: r.at && `${longDate(r.at)} ${time(r.at)}`, by: r.by })} · {t("report.code", { code: r.code })}
      </p>
      <p>
        {r.signed.length > 0 ? t("check.signed", { names: r.signed.join(", ") }) : t("check.unsigned")} ·{" "}
        {t("check.counts", { parts: r.parts, photos: r.photos })}
      </p>
      {r.struck && <Tag kind="warn">{t("check.struck")}</Tag>}
      {r.newer && <Tag kind="warn">{t("check.newer")}</Tag>}
    </section>
  );
}
