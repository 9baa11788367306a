import { Button, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useRecord, useSettings } from "../device";

/** Has a report sent to the customer, as soon as there is signal. */
export default function SendReport({ view, report, onClose }: { view: VisitView; report: string; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const company = useSettings()?.company.name ?? "";
  const contact = view.site.contact.email || view.customer.contact.email || view.site.contact.phone || "";
  const draft = useDraft<{ to?: string; text?: string }>(`send ${report}`, {});
  const { to, text } = draft.value;
  const message = text ?? t("report.message", { company, site: view.site.name, number: view.order.number });
  const address = to ?? contact;
  const send = async () => {
    if (await record("report.sent", view.id, { report, to: address.trim(), text: message.trim() || undefined })) {
      draft.clear();
      onClose();
    }
  };
  return (
    <ChoiceDrawer title={t("report.send")} draft={draft} onClose={onClose}>
      <div className="form-stack">
        <TextField label={t("tell.to")} value={address} onChange={(e) => draft.change({ to: e.target.value })} slotProps={{ htmlInput: { maxLength: 200 } }} />
        <TextField
          label={t("tell.text")}
          value={message}
          onChange={(e) => draft.change({ text: e.target.value })}
          multiline
          minRows={3}
          slotProps={{ htmlInput: { maxLength: 1000 } }}
        />
        <p className="small quiet">{t("report.sendHint")}</p>
        <Button variant="contained" disabled={!address.trim()} onClick={send}>
          {t("tell.send")}
        </Button>
      </div>
    </ChoiceDrawer>
  );
}
