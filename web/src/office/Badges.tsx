import { Button, TextField } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { act } from "../session/api";
import type { BadgeLine } from "../types";
import { Tag } from "../ui/Glyph";
import { Failure, useBadges } from "./queries";
import { Label } from "./visit/TasksAndLabels";

/** How people identify themselves at a shared terminal: badges to print, numbers and PINs. */
export function Badges() {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const badges = useBadges(open);
  return (
    <section className="sec" aria-label={t("badges.title")}>
      <h2>{t("badges.title")}</h2>
      <p className="quiet">{t("badges.hint")}</p>
      {!open && <Button onClick={() => setOpen(true)}>{t("badges.show")}</Button>}
      <Failure error={badges.error} />
      {badges.data?.map((b) => (
        <Badge key={b.person} badge={b} />
      ))}
    </section>
  );
}

function Badge({ badge: b }: { badge: BadgeLine }) {
  const { t } = useTranslation();
  const [shown, setShown] = useState(false);
  const [pin, setPin] = useState<string>();
  const save = useMutation({
    mutationFn: () => act("/api/office/badges/:person/pin", { person: b.person }, { pin: pin ?? "" }),
    onSuccess: () => setPin(undefined),
  });
  return (
    <>
      <div className="line">
        <span className="grow">
          <b>{b.name}</b> <span className="quiet">{b.number}</span>
        </span>
        {b.locked ? (
          <Tag kind="bad">{t("badges.locked")}</Tag>
        ) : b.pin ? (
          <Tag kind="good">{t("badges.pinSet")}</Tag>
        ) : (
          <Tag kind="warn">{t("badges.noPin")}</Tag>
        )}
        {pin === undefined ? (
          <button type="button" className="link small" onClick={() => setPin("")}>
            {t("badges.setPin")}
          </button>
        ) : (
          <form
            className="trail-why"
            onSubmit={(e) => {
              e.preventDefault();
              save.mutate();
            }}
          >
            <TextField
              label={t("terminal.pin")}
              value={pin}
              autoFocus
              onChange={(e) => setPin(e.target.value)}
              slotProps={{ htmlInput: { inputMode: "numeric" } }}
            />
            <Button type="submit" disabled={save.isPending}>
              {t("records.save")}
            </Button>
          </form>
        )}
        <button type="button" className="link small" onClick={() => setShown(!shown)}>
          {t(shown ? "labels.hide" : "badges.badge")}
        </button>
      </div>
      <Failure error={save.error} />
      {shown && <Label text={b.code} name={`${b.name} · ${b.number}`} />}
    </>
  );
}
