import { useTranslation } from "react-i18next";
import { DateInput, SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import type { EntryDraft, OrderPage } from "../../types";
import { isoDate } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands } from "../queries";
import css from "./Order.module.css";

/** What is done to an order with a reason. */
export type Act = "held" | "cancelled" | "closed";

const week = 7 * 86_400_000;

/** Puts an order on hold until a day, cancels or closes it. Cancelling withdraws the visits that nobody has set off for. */
export function ActDrawer({ act, page, onDone, onClose }: { act: Act; page: OrderPage; onDone: () => void; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm(`${act} ${page.line.id}`, { reason: "", until: isoDate(Date.now() + week) });
  const subject = { type: "workorder", id: page.line.id };
  const withdrawn = act === "cancelled" ? page.visits.filter((v) => ["planned", "sent", "accepted", "declined"].includes(v.visit.stage)).map((v) => v.id) : [];
  const save = ({ reason, until }: { reason: string; until: string }, saved: () => void) => {
    const all: EntryDraft[] = withdrawn.map((id) => ({ kind: "visit.withdrawn", subject: { type: "visit", id }, body: {} }));
    if (act === "held") all.push({ kind: "work.held", subject, body: { reason: reason.trim(), until } });
    else all.push({ kind: `work.${act}`, subject, body: { reason: reason.trim() } });
    commands.mutate(all, {
      onSuccess: () => {
        saved();
        onDone();
      },
    });
  };
  return (
    <SideDrawer title={t(`orderPage.do.${act}`)} about={`${page.order.number} · ${page.order.problem}`} draft={form} onClose={onClose}>
      <Form form={form} className={css.form} onSave={save}>
        {act === "held" && (
          <DateInput name="until" label={t("orderPage.back")} required check={(d) => (d < isoDate(Date.now()) ? t("code.order.until") : undefined)} />
        )}
        <TextInput name="reason" label={t("strike.why")} lines={2} required />
        {withdrawn.length > 0 && <p className="small">{t("orderPage.withdraws", { count: withdrawn.length })}</p>}
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending}>{t(`orderPage.do.${act}`)}</SaveButton>
      </Form>
    </SideDrawer>
  );
}
