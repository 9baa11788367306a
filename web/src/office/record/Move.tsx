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
    <section className="sec" aria-label={t("goes.title")}>
      <h2>
        {t("goes.title")}
        {may && (
          <Button size="small" onClick={() => setMoving(true)}>
            {t("goes.open")}
          </Button>
        )}
      </h2>
      {moves.toReversed().map((m) => (
        <MoveLine key={m.entry} move={m} names={page.sites} />
      ))}
      {moves.length === 0 && <p className="quiet">{t("goes.none")}</p>}
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
        <b>{t(`goes.why.${m.why}`)}</b> {site(m.from)} {m.to && <>→ {site(m.to)}</>}
        <span className="small quiet block">
          {[m.until && t("goes.until", { day: shortDate(`${m.until}T12:00:00Z`) }), m.note].filter(Boolean).join(" · ")}
        </span>
      </span>
      <span className="small nowrap">{shortDate(m.at)}</span>
    </p>
  );
}

function MoveDrawer({ page, onClose }: { page: RecordPage; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm(`move ${page.ref.id}`, { why: "", until: "", note: "" });
  const [site, setSite] = useState<FoundRecord>();
  const why = form.fields.watch("why") as MoveReason | "";
  const elsewhere = why !== "" && why !== "scrapped";
  const save = (v: { why: string; until: string; note: string }, saved: () => void) => {
    const body = {
      why: v.why as MoveReason,
      site: elsewhere ? site?.id : undefined,
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
      title={t("goes.open")}
      about={page.around.length > 0 ? t("goes.with", { count: page.around.length }) : undefined}
      draft={form}
      onClose={onClose}
    >
      <Form form={form} className={css.form} onSave={save}>
        <ChoiceInput name="why" label={t("goes.why")} required choices={reasons.map((r) => [r, t(`goes.why.${r}`)])} />
        {elsewhere && <SitePick site={site} onPick={setSite} optional={why === "sold"} />}
        {(why === "lent" || why === "rented") && <DateInput name="until" label={t("goes.backBy")} />}
        <TextInput name="note" label={t("goes.note")} lines={2} />
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending || (elsewhere && why !== "sold" && !site)}>{t("goes.save")}</SaveButton>
      </Form>
    </SideDrawer>
  );
}

/** Finds a site by part of its name, address or customer. */
function SitePick({ site, onPick, optional }: { site?: FoundRecord; onPick: (site?: FoundRecord) => void; optional: boolean }) {
  const { t } = useTranslation();
  const [text, setText] = useState("");
  const hits = (useFind(text.trim().length > 1 ? text.trim() : "").data?.hits ?? []).filter((h) => h.type === "site");
  if (site) {
    return (
      <p className="line">
        <span className="grow">
          <b>{site.title}</b> <span className="small quiet block">{site.detail}</span>
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
        label={t("goes.site")}
        helperText={optional ? t("goes.unknown") : undefined}
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
