import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import { useLive } from "../../device/live";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import type { MessageTemplate } from "../../types";
import { isoDate, moment, time } from "../../ui/format";
import { LayerDrawer } from "../../ui/Layers";
import { useDevice, useNow, useRecord } from "../device";
import { orderOf, useLegs } from "../route/legs";
import { onDay, useStops } from "../stops";

interface Props {
  visit: string;
  /** which of the company's messages; the person chooses when it is left out */
  template?: string;
  /** shown over the dock, after setting off */
  strip?: boolean;
  onDone: () => void;
}

/** Tells the customer when to expect somebody: the message is shown, and can be changed, before it is sent. */
export default function TellCustomer({ visit, template, strip, onDone }: Props) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const draft = useDraft<{ chosen?: string; typed?: string; to?: string }>(`tell ${visit}`, {});
  const { typed, to } = draft.value;
  const [opened, setOpened] = useState(!strip);
  const about = useLive(
    db,
    async (db) => {
      const v = await db.body("visit", visit);
      const order = await db.body("workorder", v?.order);
      return {
        v,
        order,
        site: await db.body("site", order?.site),
        settings: await db.settings(),
        mine: await orderOf(db, isoDate(Date.now())),
      };
    },
    [visit],
  );
  const now = useNow(30_000);
  const stops = useStops();
  const legs = useLegs(stops && onDay(stops, isoDate(about?.v?.start ?? now)), about?.mine ?? [], now);
  if (!about?.v || !about.settings) return null;
  const { site, order, settings, v } = about;
  const templates = settings.messages.templates ?? [];
  const chosen = templates.find((m) => m.id === draft.value.chosen);
  if (templates.length === 0) return null;
  const expected = legs?.find((l) => l.id === visit)?.arrive ?? v.start;
  const number = to ?? site?.contact.phone ?? "";
  const open = (m: MessageTemplate) => {
    setOpened(true);
    draft.change({
      chosen: m.id,
      typed: core("message", {
        template: m,
        values: {
          contact: site?.contact.name ?? "",
          company: settings.company.name,
          technician: me.person.name,
          time: time(expected),
          site: site?.name ?? "",
          number: order?.number ?? "",
          phone: settings.company.phone ?? "",
        },
      }),
    });
  };
  const send = async () => {
    const body = { template: chosen!.id, to: number, text: typed!.trim(), expected: moment(expected) };
    if (!(await record("message.sent", visit, body))) return;
    draft.clear();
    onDone();
  };
  const first = templates.find((m) => m.id === template) ?? templates[0];
  return (
    <>
      {strip && !opened && (
        <button type="button" className="dock-undo dock-tell" onClick={() => open(first)}>
          {t("tell.strip", { name: site?.contact.name || site?.name, time: time(expected) })}
        </button>
      )}
      {opened && (
        <LayerDrawer anchor="bottom" onClose={onDone}>
          <div className="choices field tell">
            <h2>{t("tell.title", { name: site?.contact.name || site?.name })}</h2>
            <div className="options">
              {templates.map((m) => (
                <button key={m.id} type="button" aria-pressed={chosen?.id === m.id} onClick={() => open(m)}>
                  {m.name}
                </button>
              ))}
            </div>
            {chosen && (
              <>
                <TextField label={t("tell.to")} value={number} onChange={(e) => draft.change({ to: e.target.value })} />
                <TextField label={t("tell.text")} value={typed} onChange={(e) => draft.change({ typed: e.target.value })} multiline minRows={3} />
                <p className="small quiet">{t("tell.hint")}</p>
                <Button variant="contained" disabled={!number.trim() || !typed?.trim()} onClick={send}>
                  {t("tell.send")}
                </Button>
              </>
            )}
            <ThrowAway draft={draft} />
            <button type="button" className="link" onClick={onDone}>
              {t("choose.cancel")}
            </button>
          </div>
        </LayerDrawer>
      )}
    </>
  );
}
