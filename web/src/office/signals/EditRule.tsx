/** A rule of signals: what is looked for, for how long, in which hours, and what follows. */
import { useWatch } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { ChoiceInput, NumberInput, SaveButton, SeveralInput, TextInput, TimeInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { recordEntry } from "../../records";
import type { Priority, SignalDo, SignalKind, SignalRule, SignalWhen } from "../../types";
import { typedNumber } from "../../ui/decimal";
import { SideDrawer } from "../../ui/SideDrawer";
import css from "../Drawer.module.css";
import { Failure, useCommands, useSettings } from "../queries";

const whens: SignalWhen[] = ["above", "below", "changed", "rate", "silent"];
const daysOf = ["", "12345", "06"] as const;
const dos: SignalDo[] = ["attend", "order"];
const priorities: Priority[] = ["emergency", "soon", "normal"];

const blank = (kind: SignalKind, r?: SignalRule) => ({
  text: r?.text ?? "",
  point: r?.point || (kind.points[0]?.id ?? ""),
  when: (r?.when ?? "above") as SignalWhen,
  limit: r?.limit ?? "",
  back: r?.back ?? "",
  per: r?.per ? String(r.per) : "",
  for: r?.for ? String(r.for) : "",
  from: r?.from ?? "",
  to: r?.to ?? "",
  days: r?.days ?? "",
  do: (r?.do ?? "attend") as SignalDo,
  priority: (r?.priority ?? "soon") as Priority,
  minutes: String(r?.minutes ?? 60),
  skills: r?.skills ?? [],
});

type Fields = ReturnType<typeof blank>;

/** The rule of a form: of what it does not look for, nothing is kept. */
function ruleOf(f: Fields, id: string): SignalRule {
  const whole = (v: string) => Math.round(Number(v)) || undefined;
  const limited = f.when === "above" || f.when === "below" || f.when === "rate";
  return {
    id,
    point: f.when === "silent" ? "" : f.point,
    when: f.when,
    limit: limited ? typedNumber(f.limit) : undefined,
    back: limited && f.back.trim() ? typedNumber(f.back) : undefined,
    per: f.when === "rate" ? whole(f.per) : undefined,
    for: whole(f.for),
    from: f.from || undefined,
    to: f.to || undefined,
    days: f.days || undefined,
    do: f.do,
    text: f.text.trim(),
    priority: f.do === "order" ? f.priority : undefined,
    minutes: f.do === "order" ? whole(f.minutes) : undefined,
    skills: f.do === "order" && f.skills.length > 0 ? f.skills : undefined,
  };
}

export function EditRule({ kind, rule, onClose }: { kind: SignalKind; rule?: SignalRule; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm<Fields>(`signal rule ${kind.id} ${rule?.id ?? ""}`, blank(kind, rule));
  const record = (rules: SignalRule[], saved: () => void) => {
    const draft = recordEntry({ type: "signalrules", id: kind.id }, { rules }, kind.known ? { rules: kind.rules } : undefined);
    const done = () => {
      saved();
      onClose();
    };
    if (draft) commands.mutate([draft], { onSuccess: done });
    else done();
  };
  const save = (f: Fields, saved: () => void) => {
    const to = ruleOf(f, rule?.id ?? commands.idOf("rule"));
    record(rule ? kind.rules.map((r) => (r.id === rule.id ? to : r)) : [...kind.rules, to], saved);
  };
  return (
    <SideDrawer title={t(rule ? "signals.changeRule" : "signals.newRule")} about={kind.name} draft={form} onClose={onClose}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="text" label={t("signals.text")} required max={200} />
        <What kind={kind} />
        <Then />
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending}>{t("records.save")}</SaveButton>
        {rule && (
          <button
            type="button"
            className="link"
            onClick={() =>
              record(
                kind.rules.filter((r) => r.id !== rule.id),
                () => {},
              )
            }
          >
            {t("signals.dropRule")}
          </button>
        )}
      </Form>
    </SideDrawer>
  );
}

/** What is looked for. */
function What({ kind }: { kind: SignalKind }) {
  const { t } = useTranslation();
  const { when } = useWatch() as Fields;
  const limited = when === "above" || when === "below" || when === "rate";
  return (
    <fieldset className={css.group}>
      <legend>{t("signals.what")}</legend>
      <div className="pair">
        <ChoiceInput name="when" label={t("signals.when")} choices={whens.map((w) => [w, t(`signals.choose.${w}`)] as const)} />
        {when !== "silent" && <ChoiceInput name="point" label={t("signals.point")} choices={kind.points.map((p) => [p.id, p.name] as const)} />}
      </div>
      {limited && (
        <div className="pair">
          <NumberInput name="limit" label={t("signals.limit")} required />
          <NumberInput name="back" label={t("signals.back")} />
        </div>
      )}
      <div className="pair">
        {when === "rate" && <NumberInput name="per" label={t("signals.per")} kind="positive" required />}
        <NumberInput name="for" label={t(when === "silent" ? "signals.silence" : "signals.for")} kind="positive" required={when === "silent"} />
      </div>
      <p className="small quiet">{t("signals.hoursHint")}</p>
      <div className="pair">
        <TimeInput name="from" label={t("intake.from")} />
        <TimeInput name="to" label={t("intake.to")} />
      </div>
      <ChoiceInput name="days" label={t("signals.days")} choices={daysOf.map((d) => [d, t(`signals.days.${d}`)] as const)} />
    </fieldset>
  );
}

/** What follows. */
function Then() {
  const { t } = useTranslation();
  const { do: does } = useWatch() as Fields;
  const skills = useSettings().data?.orders.skills ?? [];
  return (
    <fieldset className={css.group}>
      <legend>{t("signals.then")}</legend>
      <ChoiceInput name="do" label={t("signals.do")} choices={dos.map((d) => [d, t(`signals.do.${d}`)] as const)} />
      {does === "order" && (
        <>
          <div className="pair">
            <ChoiceInput name="priority" label={t("intake.priority")} choices={priorities.map((p) => [p, t(`priority.${p}`)] as const)} />
            <NumberInput name="minutes" label={t("intake.minutes")} kind="positive" required />
          </div>
          <SeveralInput name="skills" label={t("intake.skills")} choices={skills.map((s) => [s.id, s.text] as const)} />
        </>
      )}
    </fieldset>
  );
}
