import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { VisitView } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { usePolicy, useRecord } from "../device";

/** Has a report sent to the customer, as soon as there is signal. */
export default function SendReport({ view, report, onClose }: { view: VisitView; report: string; onClose: () => void }) {
  const { t } = useTranslation();
  const record = useRecord();
  const company = usePolicy()?.company ?? "";
  const contact = view.site.contact.email || view.customer.contact.email || view.site.contact.phone || "";
  const [to, setTo] = useState<string>();
  const [text, setText] = useState<string>();
  const message = text ?? t("report.message", { company, site: view.site.name, number: view.order.number });
  const address = to ?? contact;
  const send = async () => {
    if (await record("report.sent", view.id, { report, to: address.trim(), text: message.trim() || undefined })) onClose();
  };
  return (
    <ChoiceDrawer title={t("report.send")} onClose={onClose}>
      <div className="form-stack">
        <TextField label={t("tell.to")} value={address} onChange={(e) => setTo(e.target.value)} slotProps={{ htmlInput: { maxLength: 200 } }} />
        <TextField
          label={t("tell.text")}
          value={message}
          onChange={(e) => setText(e.target.value)}
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
