import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { AbsenceFields, absenceBody, absenceReady, noAbsence } from "../../form/AbsenceFields";
import { useMay } from "../../session/session";
import type { OffTime, PlannedPerson, Settings } from "../../types";
import { absenceText, absenceWhy } from "../../ui/absence";
import { isoDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Failure, useCommands } from "../queries";
import css from "./People.module.css";

/** When somebody is off, and asks to be: the office decides, and enters what it knows. */
export function Absences({ person: p, settings }: { person: PlannedPerson; settings: Settings }) {
  const { t } = useTranslation();
  const may = useMay("absence.asked");
  const commands = useCommands();
  const today = isoDate(Date.now());
  const draft = useDraft(`absence ${p.id}`, noAbsence);
  const v = draft.value;
  const subject = { type: "absences", id: p.id };
  const reasons = settings.planning.absences ?? [];
  const shown = p.absences.filter((a) => !a.struck && a.state !== "withdrawn" && a.to >= today).sort((a, b) => a.from.localeCompare(b.from));
  const add = () => commands.mutate([{ kind: "absence.asked", subject, body: absenceBody(v) }], { onSuccess: draft.clear });
  return (
    <section className="sec" aria-label={t("absence.title")}>
      <h2>{t("absence.title")}</h2>
      {shown.length === 0 && <p className="quiet">{t("absence.none")}</p>}
      {shown.map((a) => (
        <div className="line" key={a.entry}>
          <span className="grow">
            <b>{absenceText(a)}</b> {absenceWhy(reasons, a)}
            {a.note && <span className="small quiet block">{a.note}</span>}
            {a.state !== "granted" && (
              <span className="block">
                <Tag kind={a.state === "declined" ? "bad" : "warn"}>{t(`absence.${a.state}`)}</Tag>
              </span>
            )}
          </span>
          {may && <Decide absence={a} subject={subject} commands={commands} />}
        </div>
      ))}
      {may && (
        <>
          <div className={css.fields}>
            <AbsenceFields value={v} reasons={reasons} onChange={draft.change} />
          </div>
          <div className="line">
            <Button variant="contained" disabled={!absenceReady(v) || commands.isPending} onClick={add}>
              {t("absence.enter")}
            </Button>
            {Object.values(v).some((x) => x !== "") && <ThrowAway draft={draft} />}
          </div>
        </>
      )}
      <Failure error={commands.error} />
    </section>
  );
}

interface DecideProps {
  absence: OffTime;
  subject: { type: string; id: string };
  commands: ReturnType<typeof useCommands>;
}

function Decide({ absence: a, subject, commands }: DecideProps) {
  const { t } = useTranslation();
  const decide = (granted: boolean) => commands.mutate([{ kind: "absence.decided", subject, body: { absence: a.entry, granted } }]);
  if (a.state === "asked" || a.state === "declined")
    return (
      <span className="nowrap">
        <Button size="small" variant="contained" disabled={commands.isPending} onClick={() => decide(true)}>
          {t("absence.grant")}
        </Button>{" "}
        {a.state === "asked" && (
          <Button size="small" disabled={commands.isPending} onClick={() => decide(false)}>
            {t("absence.decline")}
          </Button>
        )}
      </span>
    );
  return (
    <button type="button" className="link" onClick={() => commands.mutate([{ kind: "absence.withdrawn", subject, body: { absence: a.entry } }])}>
      {t("absence.drop")}
    </button>
  );
}
