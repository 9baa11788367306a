import { Button } from "@mui/material";
import { useWatch } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { DateInput, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import type { DueLine, UpkeepMoved } from "../../types";
import { dayText } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import css from "../Drawer.module.css";
import { Failure, useCommands } from "../queries";

const blank = { to: "", reason: "" };

/** Has something that falls due be done on another day, or not at all this once. */
export function MoveDue({ line: l, onClose }: { line: DueLine; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm(`due ${l.plan} ${l.target} ${l.key}`, { ...blank, to: l.on });
  const send = (to: string | undefined, reason: string) => {
    const body: UpkeepMoved = { target: l.target, key: l.key, due: l.due, to, reason: reason.trim() || undefined };
    commands.mutate([{ kind: "upkeep.moved", subject: { type: "upkeep", id: l.plan }, body }], {
      onSuccess: () => {
        form.clear();
        onClose();
      },
    });
  };
  const changed = l.on !== l.due || l.skipped;
  return (
    <SideDrawer
      title={t("upkeep.moveTitle", { plan: l.planName, name: l.name || l.siteName })}
      about={t("upkeep.moveAbout", { day: dayText(l.due) })}
      draft={form}
      onClose={onClose}
    >
      <Form form={form} className={css.form} onSave={(v) => send(v.to, v.reason)}>
        <DateInput name="to" label={t("upkeep.moveTo")} required />
        <TextInput name="reason" label={t("upkeep.reason")} max={500} />
        <Failure error={commands.error} />
        <Buttons on={l.skipped ? "" : l.on} busy={commands.isPending} onSkip={l.skipped ? undefined : (reason) => send(undefined, reason)} />
        {changed && (
          <Button disabled={commands.isPending} onClick={() => send(l.due, "")}>
            {t("upkeep.asItWas", { day: dayText(l.due) })}
          </Button>
        )}
      </Form>
    </SideDrawer>
  );
}

interface ButtonsProps {
  /** when it is done as it stands */
  on: string;
  busy: boolean;
  onSkip?: (reason: string) => void;
}

/** To skip it takes a reason, to move it another day. */
function Buttons({ on, busy, onSkip }: ButtonsProps) {
  const { t } = useTranslation();
  const { to, reason } = useWatch() as typeof blank;
  return (
    <p className="line">
      <Button type="submit" variant="contained" disabled={busy || !to || to === on}>
        {t("upkeep.moveIt")}
      </Button>
      {onSkip && (
        <Button variant="outlined" disabled={busy || !reason.trim()} onClick={() => onSkip(reason)}>
          {t("upkeep.skipIt")}
        </Button>
      )}
    </p>
  );
}
