import { Button, Checkbox, FormControlLabel } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { useMay } from "../../session/session";
import type { RecordPage, Site } from "../../types";
import { shortDate } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import { Answer, Failure, useCommands, useRecordWork } from "../queries";
import css from "./Record.module.css";
import { RecordPick } from "./RecordPick";

/** Whose a site was, and how it becomes another customer's. */
export function SiteMoves({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const [moving, setMoving] = useState(false);
  const may = useMay("site.moved");
  const moves = (page.body as Site).moves ?? [];
  const customer = (id: string) => <Link to={`/office/records/customer/${id}`}>{page.places[id] ?? id}</Link>;
  if (moves.length === 0 && !may) return null;
  return (
    <section className="sec" aria-label={t("siteMove.title")}>
      <h2>
        {t("siteMove.title")}
        {may && (
          <Button size="small" onClick={() => setMoving(true)}>
            {t("siteMove.open")}
          </Button>
        )}
      </h2>
      {moves.toReversed().map((m) => (
        <p className="line" key={m.entry}>
          <span className="grow">
            {customer(m.from)} → {customer(m.to)}
            {m.note && <span className="small quiet block">{m.note}</span>}
          </span>
          <span className="small nowrap">{shortDate(m.at)}</span>
        </p>
      ))}
      {moves.length === 0 && <p className="quiet">{t("siteMove.none")}</p>}
      {moving && <SiteMoveDrawer page={page} onClose={() => setMoving(false)} />}
    </section>
  );
}

function SiteMoveDrawer({ page, onClose }: { page: RecordPage; onClose: () => void }) {
  const { t } = useTranslation();
  const work = useRecordWork("site", page.ref.id);
  const commands = useCommands({ form: true });
  // The work orders that stay with the customer that asked for them: the open ones go along unless they are named here.
  const form = useKeptForm(`site move ${page.ref.id}`, { customer: "", name: "", note: "", stay: [] as string[] });
  const { customer, stay } = form.fields.watch();
  return (
    <SideDrawer title={t("siteMove.open")} about={t("siteMove.about")} draft={form} onClose={onClose}>
      <Answer query={work}>
        {({ open }) => (
          <Form
            form={form}
            className={css.form}
            onSave={(v, saved) =>
              commands.mutate(
                [
                  {
                    kind: "site.moved",
                    subject: page.ref,
                    body: { customer: v.customer, note: v.note.trim() || undefined, orders: open.filter((o) => !v.stay.includes(o.id)).map((o) => o.id) },
                  },
                ],
                {
                  onSuccess: () => {
                    saved();
                    onClose();
                  },
                },
              )
            }
          >
            <RecordPick
              type="customer"
              label={t("siteMove.customer")}
              name={customer && form.fields.watch("name")}
              except={(page.body as Site).customer}
              onPick={(hit) => {
                form.fields.setValue("name", hit ? [hit.title, hit.detail].filter(Boolean).join(" · ") : "", { shouldDirty: true });
                form.fields.setValue("customer", hit?.id ?? "", { shouldDirty: true });
              }}
            />
            {open.length > 0 && (
              <fieldset className={css.along}>
                <legend className="small">{t("siteMove.along")}</legend>
                {open.map((o) => (
                  <FormControlLabel
                    key={o.id}
                    control={<Checkbox checked={!stay.includes(o.id)} />}
                    label={`${o.number} ${o.problem}`}
                    onChange={(_, along) => form.fields.setValue("stay", along ? stay.filter((id) => id !== o.id) : [...stay, o.id], { shouldDirty: true })}
                  />
                ))}
              </fieldset>
            )}
            <TextInput name="note" label={t("machineMove.note")} lines={2} />
            <Failure error={commands.error} />
            <SaveButton busy={commands.isPending || !customer}>{t("machineMove.save")}</SaveButton>
          </Form>
        )}
      </Answer>
    </SideDrawer>
  );
}
