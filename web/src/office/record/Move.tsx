import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { ChoiceInput, DateInput, SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { useMay } from "../../session/session";
import type { Asset, AssetMove, FoundRecord, MoveReason, RecordPage } from "../../types";
import { shortDate } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands, useFind } from "../queries";
import css from "./Record.module.css";

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
        <MoveLine key={m.entry} move={m} names={page.sites} />
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
          <SitePick
            name={site && form.fields.watch("siteName")}
            optional={why === "sold"}
            onPick={(hit) => {
              form.fields.setValue("siteName", hit?.title ?? "", { shouldDirty: true });
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

/** Finds a site by part of its name, address or customer. */
function SitePick({ name, onPick, optional }: { name: string; onPick: (site?: FoundRecord) => void; optional: boolean }) {
  const { t } = useTranslation();
  const [text, setText] = useState("");
  const hits = (useFind(text.trim().length > 1 ? text.trim() : "").data?.hits ?? []).filter((h) => h.type === "site");
  if (name) {
    return (
      <p className="line">
        <span className="grow">
          <b>{name}</b>
        </span>
        <button type="button" className="link" onClick={() => onPick()}>
          {t("intake.change")}
        </button>
      </p>
    );
  }
  return (
    <div>
      <TextField
        label={t("machineMove.site")}
        helperText={optional ? t("machineMove.unknown") : undefined}
        value={text}
        onChange={(e) => setText(e.target.value)}
        slotProps={{ htmlInput: { autoComplete: "off" } }}
      />
      {text.trim().length > 1 &&
        hits.map((h) => (
          <button type="button" className="choice" key={h.id} onClick={() => onPick(h)}>
            <span>
              <span className="strong block">{h.title}</span>
              <span className="small quiet">{h.detail}</span>
            </span>
          </button>
        ))}
    </div>
  );
}
