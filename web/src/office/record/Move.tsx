import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { ChoiceInput, DateInput, SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { useMay } from "../../session/session";
import type { Asset, AssetMove, MoveReason, RecordPage } from "../../types";
import { shortDate } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands } from "../queries";
import css from "./Record.module.css";
import { RecordPick } from "./RecordPick";

const reasons: MoveReason[] = ["moved", "sold", "lent", "rented", "back", "scrapped"];

/** Where a machine was, and whose, and how it gets elsewhere. */
export function Moves({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const [moving, setMoving] = useState(false);
  const may = useMay("asset.moved");
  const moves = (page.body as Asset).moves ?? [];
  if (moves.length === 0 && !may) return null;
  return (
    <section className="sec" aria-label={t("machineMove.title")}>
      <h2>
        {t("machineMove.title")}
        {may && (
          <Button size="small" onClick={() => setMoving(true)}>
            {t("machineMove.open")}
          </Button>
        )}
      </h2>
      {moves.toReversed().map((m) => (
        <MoveLine key={m.entry} move={m} names={page.places} />
      ))}
      {moves.length === 0 && <p className="quiet">{t("machineMove.none")}</p>}
      {moving && <MoveDrawer page={page} onClose={() => setMoving(false)} />}
    </section>
  );
}

function MoveLine({ move: m, names }: { move: AssetMove; names: Record<string, string> }) {
  const { t } = useTranslation();
  const site = (id: string) => <Link to={`/office/records/site/${id}`}>{names[id] ?? id}</Link>;
  return (
    <p className="line">
      <span className="grow">
        <b>{t(`machineMove.why.${m.why}`)}</b> {site(m.from)} {m.to && <>→ {site(m.to)}</>}
        <span className="small quiet block">
          {[m.until && t("machineMove.until", { day: shortDate(`${m.until}T12:00:00Z`) }), m.note].filter(Boolean).join(" · ")}
        </span>
      </span>
      <span className="small nowrap">{shortDate(m.at)}</span>
    </p>
  );
}

function MoveDrawer({ page, onClose }: { page: RecordPage; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm(`move ${page.ref.id}`, { why: "", site: "", siteName: "", until: "", note: "" });
  const site = form.fields.watch("site");
  const why = form.fields.watch("why") as MoveReason | "";
  const elsewhere = why !== "" && why !== "scrapped";
  const save = (v: { why: string; site: string; until: string; note: string }, saved: () => void) => {
    const body = {
      why: v.why as MoveReason,
      site: (elsewhere && v.site) || undefined,
      until: v.why === "lent" || v.why === "rented" ? v.until || undefined : undefined,
      note: v.note.trim() || undefined,
      components: page.around.map((c) => c.id),
    };
    commands.mutate([{ kind: "asset.moved", subject: page.ref, body }], {
      onSuccess: () => {
        saved();
        onClose();
      },
    });
  };
  return (
    <SideDrawer
      title={t("machineMove.open")}
      about={page.around.length > 0 ? t("machineMove.with", { count: page.around.length }) : undefined}
      draft={form}
      onClose={onClose}
    >
      <Form form={form} className={css.form} onSave={save}>
        <ChoiceInput name="why" label={t("machineMove.why")} required choices={reasons.map((r) => [r, t(`machineMove.why.${r}`)])} />
        {elsewhere && (
          <RecordPick
            type="site"
            label={t("machineMove.site")}
            hint={why === "sold" ? t("machineMove.unknown") : undefined}
            name={site && form.fields.watch("siteName")}
            onPick={(hit) => {
              form.fields.setValue("siteName", hit ? [hit.title, hit.detail].filter(Boolean).join(" · ") : "", { shouldDirty: true });
              form.fields.setValue("site", hit?.id ?? "", { shouldDirty: true });
            }}
          />
        )}
        {(why === "lent" || why === "rented") && <DateInput name="until" label={t("machineMove.backBy")} />}
        <TextInput name="note" label={t("machineMove.note")} lines={2} />
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending || (elsewhere && why !== "sold" && !site)}>{t("machineMove.save")}</SaveButton>
      </Form>
    </SideDrawer>
  );
}
