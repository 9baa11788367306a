import { Button } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import { act } from "../../session/api";
import type { BoardPerson, Elsewhere } from "../../types";
import { Tag } from "../../ui/Glyph";
import { Failure } from "../queries";

/** Sends somebody their day: by mail as a paper, or as a text. What was sent can't be taken back, and says so. */
export function SendDay({ person, date }: { person: BoardPerson; date: string }) {
  const { t } = useTranslation();
  const [id, setId] = useState(ulid); // sent again after a lost answer, it goes once
  const send = useMutation({
    mutationFn: (way: Elsewhere) => act("/api/office/days/:person/send", { person: person.id }, { id, date, way }),
    onSuccess: () => setId(ulid()),
  });
  return (
    <div>
      <p className="small quiet">{t("sendday.hint")}</p>
      <p className="line">
        <Button size="small" disabled={send.isPending} onClick={() => send.mutate("mail")}>
          {t("sendday.mail")}
        </Button>
        <Button size="small" disabled={send.isPending} onClick={() => send.mutate("text")}>
          {t("sendday.text")}
        </Button>
        <span role="status">{send.isSuccess && <Tag kind="good">{t("sendday.sent")}</Tag>}</span>
      </p>
      <Failure error={send.error} />
    </div>
  );
}
