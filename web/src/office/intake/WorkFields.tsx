import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { DateField, TimeField } from "../../form/dates";
import type { Document, Priority } from "../../types";
import { isoDate, moment, shortDate, time, timeOrDay } from "../../ui/format";
import { TroublePicker } from "../../ui/TroublePicker";
import { PaperLines } from "../Papers";
import { useBoard, useQuestion, useSettings, useSheets } from "../queries";
import { NeedsField } from "../stores/NeedsField";
import { Choices } from "./Choices";
import { type Call, longest, made } from "./call";
import { FreeAtCall } from "./FreeAtCall";
import { GoesFields } from "./GoesFields";

const priorities: Priority[] = ["emergency", "soon", "normal"];

interface Props {
  call: Call;
  change: (patch: Partial<Call>) => void;
  update: (change: (now: Call) => Partial<Call>) => void;
}

/** What is to be done, by when, and what it needs. */
export function WorkFields({ call, change, update }: Props) {
  const { t } = useTranslation();
  const skills = useBoard(isoDate(Date.now())).data?.skills ?? [];
  const settings = useSettings().data;
  const works = settings?.orders.works ?? [];
  const troubles = settings?.troubles;
  const turn = (list: string[], id: string) => (list.includes(id) ? list.filter((x) => x !== id) : [...list, id]);
  return (
    <>
      <TextField
        label={t("intake.problem")}
        value={call.problem}
        onChange={(e) => change({ problem: e.target.value })}
        multiline
        minRows={3}
        required
        error={call.problem.length > longest}
        helperText={call.problem.length > longest ? t("intake.tooLong", { have: call.problem.length, room: longest }) : undefined}
      />
      <TextField
        label={t("intake.tasks")}
        helperText={t("intake.tasksHint")}
        value={call.tasks}
        onChange={(e) => change({ tasks: e.target.value })}
        multiline
        minRows={2}
      />
      {troubles?.intake && (
        <TroublePicker
          tree={troubles.tree ?? []}
          kind="trouble"
          label={t("trouble.trouble")}
          value={call.trouble || undefined}
          machine={call.assetKind || undefined}
          onChange={(trouble = "") => change({ trouble })}
        />
      )}
      <Choices label={t("intake.kind")} choices={works} pressed={(id) => call.kind === id} onPress={(id) => change({ kind: call.kind === id ? "" : id })} />
      <Choices
        label={t("intake.priority")}
        choices={priorities.map((p) => ({ id: p, text: t(`priority.${p}`) }))}
        pressed={(id) => call.priority === id}
        onPress={(id) => change({ priority: id as Priority })}
      />
      <div className="pair">
        <TextField
          label={t("orderPage.theirsLabel")}
          value={call.theirs}
          onChange={(e) => change({ theirs: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 80, autoComplete: "off" } }}
        />
        <TextField
          label={t("orderPage.instruction")}
          value={call.instruction}
          onChange={(e) => change({ instruction: e.target.value })}
          multiline
          error={call.instruction.length > longest}
          helperText={call.instruction.length > longest ? t("intake.tooLong", { have: call.instruction.length, room: longest }) : undefined}
        />
      </div>
      <fieldset className="promise">
        <legend className="small quiet">{t("intake.promise")}</legend>
        <DateField label={t("plan.date")} value={call.day} onChange={(day) => change({ day })} />
        <TimeField label={t("intake.from")} value={call.from} onChange={(from) => change({ from })} />
        <TimeField label={t("intake.to")} value={call.to} onChange={(to) => change({ to })} />
        <TextField
          type="number"
          label={t("intake.minutes")}
          value={call.minutes}
          onChange={(e) => change({ minutes: e.target.value })}
          required
          slotProps={{ htmlInput: { min: 1, max: 20160 } }}
        />
      </fieldset>
      <ByRule call={call} change={change} />
      <FreeAtCall call={call} change={change} />
      <Choices
        label={t("intake.skills")}
        choices={skills}
        pressed={(id) => call.skills.includes(id)}
        onPress={(id) => change({ skills: turn(call.skills, id) })}
      />
      <GoesFields crew={call.crew} things={call.things} onChange={change} />
      <NeedsField needs={call.needs} onChange={(needs) => change({ needs })} />
      <SheetChoice chosen={call.sheets} onChange={(sheets) => change({ sheets })} />
      <fieldset className="papers">
        <legend className="small quiet">{t("orderPage.papers")}</legend>
        <PaperLines may papers={call.documents} onChange={(hash, paper) => update((now) => ({ documents: withPaper(now.documents, hash, paper) }))} />
      </fieldset>
    </>
  );
}

function withPaper(papers: Call["documents"], hash: string, paper: Document | null) {
  const { [hash]: _, ...rest } = papers;
  return paper ? { ...rest, [hash]: paper } : rest;
}

/** What the company's rules, or an agreement, promise of such work: when somebody comes, while nothing is promised of that, and when it is done. */
function ByRule({ call, change }: Pick<Props, "call" | "change">) {
  const { t } = useTranslation();
  const open = !call.day && !call.from && !call.to;
  const asset = call.asset === made ? "" : call.asset;
  const { by, agreement, done, doneAgreement } = useQuestion("/api/office/promise", { priority: call.priority, work: call.kind, asset }).data ?? {};
  return (
    <>
      {open && by && (
        <p className="line small">
          <span className="grow">{t(agreement ? "intake.promiseAgreed" : "intake.promiseRule", { day: shortDate(by), time: time(by), agreement })}</span>
          <button type="button" className="link" onClick={() => change({ day: isoDate(by), to: time(by) })}>
            {t("intake.promiseIt")}
          </button>
        </p>
      )}
      {call.doneBy ? (
        <p className="line small">
          <span className="grow strong">{t("intake.doneBy", { time: timeOrDay(call.doneBy) })}</span>
          <button type="button" className="link" onClick={() => change({ doneBy: "" })}>
            {t("intake.donePromised")}
          </button>
        </p>
      ) : (
        done && (
          <p className="line small">
            <span className="grow">
              {t(doneAgreement ? "intake.doneAgreed" : "intake.doneRule", { day: shortDate(done), time: time(done), agreement: doneAgreement })}
            </span>
            <button type="button" className="link" onClick={() => change({ doneBy: moment(done) })}>
              {t("intake.promiseIt")}
            </button>
          </p>
        )
      )}
    </>
  );
}

/** Check sheets: as the rules have it, unless somebody chooses. */
function SheetChoice({ chosen, onChange }: { chosen?: string[]; onChange: (list?: string[]) => void }) {
  const { t } = useTranslation();
  const published = (useSheets().data ?? []).filter((s) => s.version > 0);
  const turn = (ref: string) => onChange((chosen ?? []).includes(ref) ? (chosen ?? []).filter((c) => c !== ref) : [...(chosen ?? []), ref]);
  return (
    <fieldset className="priorities">
      <legend className="small quiet">{t("sheets.title")}</legend>
      <button type="button" aria-pressed={!chosen} onClick={() => onChange(undefined)}>
        {t("intake.byRule")}
      </button>
      {published.map((s) => (
        <button type="button" key={s.id} aria-pressed={!!chosen?.includes(`${s.id}@${s.version}`)} onClick={() => turn(`${s.id}@${s.version}`)}>
          {s.title}
        </button>
      ))}
    </fieldset>
  );
}
