import { useTranslation } from "react-i18next";
import { ChoiceInput, SaveButton, SeveralInput, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { useMe } from "../../session/session";
import type { EntryDraft, Named, Undertaking } from "../../types";
import { SideDrawer } from "../../ui/SideDrawer";
import { useQuestion } from "../commands";
import css from "../Drawer.module.css";
import { Failure, useCommands } from "../queries";

interface Props {
  id?: string;
  known?: Undertaking;
  onClose: (saved?: string) => void;
}

/** Begins an undertaking, or changes what is said of it. */
export function EditUndertaking({ id, known, onClose }: Props) {
  const { t } = useTranslation();
  const me = useMe();
  const commands = useCommands({ form: true });
  const office: Named[] = useQuestion("/api/office/people", {}).data ?? [];
  const blank = { name: known?.name ?? "", responsible: known?.responsible ?? me?.id ?? "", seers: known?.seers ?? [], note: known?.note ?? "" };
  const form = useKeptForm(`undertaking ${id ?? ""}`, blank);
  const people = office.map((p) => [p.id, p.name] as const);
  const save = (v: typeof blank, saved: () => void) => {
    const to = id ?? commands.idOf("undertaking");
    const body = { name: v.name.trim(), responsible: v.responsible || null, seers: v.seers.length > 0 ? v.seers : null, note: v.note.trim() || null };
    const base = { name: known?.name ?? null, responsible: known?.responsible ?? null, seers: known?.seers ?? null, note: known?.note ?? null };
    const subject = { type: "undertaking", id: to };
    const draft: EntryDraft = id ? { kind: "record.amended", subject, body, base } : { kind: "record.created", subject, body };
    commands.mutate([draft], {
      onSuccess: () => {
        saved();
        onClose(to);
      },
    });
  };
  return (
    <SideDrawer title={t(id ? "people.edit" : "undertaking.new", { name: known?.name })} draft={form} onClose={() => onClose()}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="name" label={t("undertaking.name")} required max={200} />
        <ChoiceInput name="responsible" label={t("orderPage.responsibleLabel")} choices={[["", t("orderPage.none")], ...people]} />
        <SeveralInput name="seers" label={t("undertaking.seers")} choices={people} />
        <TextInput name="note" label={t("visit.note")} lines={3} max={5000} />
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending}>{t("records.save")}</SaveButton>
      </Form>
    </SideDrawer>
  );
}
