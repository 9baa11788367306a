import { Button } from "@mui/material";
import { useFormContext, useWatch } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { DateInput, SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { recordEntry } from "../../records";
import type { Agreement, AgreementLine, Named, PromiseRule } from "../../types";
import { isoDate } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import css from "../Drawer.module.css";
import { Failure, useCommands, useSettings } from "../queries";
import { RecordPick } from "../record/RecordPick";
import { PromiseLine, promiseFine } from "../rules/PromiseRules";
import { MachinesField } from "./MachinesField";

interface Fields {
  name: string;
  customer: string;
  whose: string;
  machines: Named[];
  from: string;
  to: string;
  promises: PromiseRule[];
  note: string;
}

const blank = (a?: AgreementLine): Fields => ({
  name: a?.name ?? "",
  customer: a?.customer ?? "",
  whose: a?.whose ?? "",
  machines: a?.machines ?? [],
  from: a?.from ?? isoDate(Date.now()),
  to: a?.to ?? "",
  promises: a?.promises ?? [],
  note: a?.note ?? "",
});

const bodyOf = (v: Fields): Agreement => ({
  name: v.name.trim(),
  customer: v.customer,
  assets: v.machines.length > 0 ? v.machines.map((m) => m.id) : undefined,
  from: v.from,
  to: v.to || undefined,
  promises: v.promises.length > 0 ? v.promises : undefined,
  note: v.note.trim() || undefined,
});

/** Makes an agreement, or changes one. */
export function EditAgreement({ known, onClose }: { known?: AgreementLine; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm<Fields>(`agreement ${known?.id ?? ""}`, blank(known));
  const save = (v: Fields, saved: () => void) => {
    const draft = recordEntry({ type: "agreement", id: known?.id ?? commands.idOf("agreement") }, bodyOf(v), known && bodyOf(blank(known)));
    const done = () => {
      saved();
      onClose();
    };
    if (draft) commands.mutate([draft], { onSuccess: done });
    else done();
  };
  return (
    <SideDrawer title={t(known ? "agreement.change" : "agreement.new")} draft={form} onClose={onClose}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="name" label={t("agreement.name")} required max={100} />
        <Who />
        <div className="pair">
          <DateInput name="from" label={t("agreement.from")} required />
          <DateInput name="to" label={t("agreement.to")} />
        </div>
        <Promises />
        <TextInput name="note" label={t("visit.note")} lines={2} max={5000} />
        <Failure error={commands.error} />
        <Save busy={commands.isPending} />
      </Form>
    </SideDrawer>
  );
}

function Save({ busy }: { busy: boolean }) {
  const { t } = useTranslation();
  const v = useWatch() as Fields;
  return <SaveButton busy={busy || !v.customer || !v.from || !v.promises.every(promiseFine)}>{t("records.save")}</SaveButton>;
}

function useSet() {
  const { setValue } = useFormContext<Fields>();
  return <N extends keyof Fields>(name: N, value: Fields[N]) => setValue(name as never, value as never, { shouldDirty: true });
}

/** Whose it is, and about which machines. */
function Who() {
  const { t } = useTranslation();
  const set = useSet();
  const { whose, machines } = useWatch() as Fields;
  return (
    <fieldset className={css.group}>
      <legend>{t("agreement.customer")}</legend>
      <RecordPick
        type="customer"
        label={t("agreement.customer")}
        name={whose}
        onPick={(hit) => {
          set("customer", hit?.id ?? "");
          set("whose", hit?.title ?? "");
        }}
      />
      <p className="strong">{t("agreement.machines")}</p>
      <MachinesField machines={machines} onChange={(to) => set("machines", to)} />
    </fieldset>
  );
}

/** How soon somebody comes, where that is other than the company's rules say. */
function Promises() {
  const { t } = useTranslation();
  const set = useSet();
  const { promises } = useWatch() as Fields;
  const works = useSettings().data?.orders.works ?? [];
  return (
    <fieldset className={css.group}>
      <legend>{t("agreement.promises")}</legend>
      {promises.map((r, i) => (
        <PromiseLine
          // biome-ignore lint/suspicious/noArrayIndexKey: lines have nothing else that tells them apart
          key={i}
          rule={r}
          works={works}
          may
          onChange={(to) => set("promises", to ? promises.with(i, to) : promises.toSpliced(i, 1))}
        />
      ))}
      <Button onClick={() => set("promises", [...promises, { priority: "emergency", hours: 4 }])}>{t("promiseRules.add")}</Button>
    </fieldset>
  );
}
