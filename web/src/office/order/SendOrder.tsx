import { useTranslation } from "react-i18next";
import { SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import type { OrderPage } from "../../types";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands } from "../queries";
import css from "./Order.module.css";

/** Sends somebody the order on paper: another firm that helps, or the customer. */
export function SendOrder({ page, onDone, onClose }: { page: OrderPage; onDone: (sentence: string) => void; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm(`send order ${page.line.id}`, {
    to: "",
    text: t("orderSend.usual", { number: page.order.number, site: page.site.name }),
  });
  const known = [...(page.order.people ?? []), page.site.contact, ...(page.site.people ?? []), page.customer.contact];
  const people = new Map(known.flatMap((p) => (p.email || p.phone ? [[`${p.name} ${p.email || p.phone}`, p.email || p.phone || ""]] : [])));
  return (
    <SideDrawer title={t("orderSend.title", { number: page.order.number })} about={t("orderSend.about")} draft={form} onClose={onClose}>
      <Form
        form={form}
        className={css.form}
        onSave={(v, saved) =>
          commands.mutate([{ kind: "work.sent", subject: { type: "workorder", id: page.line.id }, body: { to: v.to.trim(), text: v.text.trim() } }], {
            onSuccess: () => {
              saved();
              onDone(t("orderSend.done", { to: v.to.trim() }));
              onClose();
            },
          })
        }
      >
        <TextInput name="to" label={t("orderSend.to")} required max={200} />
        {[...people].map(([called, to]) => (
          <p className="small" key={called}>
            <button type="button" className="link" onClick={() => form.fields.setValue("to", to, { shouldDirty: true, shouldValidate: true })}>
              {called}
            </button>
          </p>
        ))}
        <TextInput name="text" label={t("orderSend.text")} lines={4} required max={1000} />
        <p className="small quiet">{t("orderSend.final")}</p>
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending}>{t("orderSend.send")}</SaveButton>
      </Form>
    </SideDrawer>
  );
}
