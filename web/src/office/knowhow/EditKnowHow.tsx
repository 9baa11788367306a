import { useTranslation } from "react-i18next";
import { SaveButton, SeveralInput, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { useMe } from "../../session/session";
import type { EntryDraft, KnowHow } from "../../types";
import { SideDrawer } from "../../ui/SideDrawer";
import { pathText } from "../../ui/troubles";
import { useQuestion } from "../commands";
import css from "../Drawer.module.css";
import { Failure, useCommands, useSettings } from "../queries";

interface Props {
  id?: string;
  known?: KnowHow;
  onClose: (saved?: string) => void;
}

/** Writes know-how, or changes it. */
export function EditKnowHow({ id, known, onClose }: Props) {
  const { t } = useTranslation();
  const me = useMe();
  const commands = useCommands({ form: true });
  const blank = { title: known?.title ?? "", text: known?.text ?? "", troubles: known?.troubles ?? [], kinds: known?.kinds ?? [] };
  const form = useKeptForm(`knowhow ${id ?? ""}`, blank);
  const tree = (useSettings().data?.troubles.tree ?? []).filter((n) => n.kind !== "remedy");
  const machines = useQuestion("/api/office/kinds", {}).data ?? [];
  const save = (v: typeof blank, saved: () => void) => {
    const to = id ?? commands.idOf("knowhow");
    const body = { title: v.title.trim(), text: v.text.trim(), troubles: v.troubles, kinds: v.kinds };
    const base = { title: known?.title ?? null, text: known?.text ?? null, troubles: known?.troubles ?? null, kinds: known?.kinds ?? null };
    const subject = { type: "knowhow", id: to };
    const draft: EntryDraft = id ? { kind: "record.amended", subject, body, base } : { kind: "record.created", subject, body: { ...body, author: me?.id } };
    commands.mutate([draft], {
      onSuccess: () => {
        saved();
        onClose(to);
      },
    });
  };
  return (
    <SideDrawer title={t(id ? "people.edit" : "knowhow.new", { name: known?.title })} draft={form} onClose={() => onClose()}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="title" label={t("knowhow.titleLabel")} required max={200} />
        <TextInput name="text" label={t("knowhow.text")} lines={8} max={20_000} />
        {tree.length > 0 && <SeveralInput name="troubles" label={t("knowhow.troubles")} choices={tree.map((n) => [n.id, pathText(tree, n.id)])} />}
        <SeveralInput name="kinds" label={t("knowhow.kinds")} choices={machines.map((m) => [m.id, m.kind.name])} />
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending}>{t("records.save")}</SaveButton>
      </Form>
    </SideDrawer>
  );
}
