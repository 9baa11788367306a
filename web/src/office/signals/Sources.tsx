/** Who may send signals: a source is made with a key, which is shown once, and reports of the machines of its sites. */
import { Button } from "@mui/material";
import { useState } from "react";
import { useFormContext, useWatch } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { useHas } from "../../session/session";
import type { Named, SignalSource, SourceMade } from "../../types";
import { Confirm } from "../../ui/Confirm";
import { Empty } from "../../ui/Empty";
import { timeOrDay } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import css from "../Drawer.module.css";
import { Failure, useAct } from "../queries";
import { RecordPick } from "../record/RecordPick";
import own from "./Signals.module.css";

export function Sources({ sources }: { sources: SignalSource[] }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const [making, setMaking] = useState(false);
  const [made, setMade] = useState<SourceMade>();
  return (
    <section className="sec" aria-label={t("signals.sources")}>
      <h2>
        {t("signals.sources")}
        {may && (
          <Button size="small" onClick={() => setMaking(true)}>
            {t("signals.newSource")}
          </Button>
        )}
      </h2>
      {made && (
        <div className={own.key} role="status">
          <p>{t("signals.key")}</p>
          <p>
            <code>{made.key}</code>
          </p>
          <button type="button" className="link" onClick={() => setMade(undefined)}>
            {t("signals.keyKept")}
          </button>
        </div>
      )}
      {sources.length === 0 && <Empty>{t("signals.noSources")}</Empty>}
      {sources.map((s) => (
        <Source key={s.id} source={s} may={may} />
      ))}
      {making && (
        <MakeSource
          onClose={(key) => {
            setMaking(false);
            setMade(key);
          }}
        />
      )}
    </section>
  );
}

function Source({ source: s, may }: { source: SignalSource; may: boolean }) {
  const { t } = useTranslation();
  const end = useAct("/api/office/signals/sources/:id/end", { id: s.id });
  const [sure, setSure] = useState(false);
  return (
    <div className="line">
      <span className={s.ended ? "grow quiet" : "grow"}>
        <span className="strong">{s.name}</span>
        <span className="small quiet block">
          {s.sites.map((x) => x.name).join(", ")} · {t("signals.made", { time: timeOrDay(s.made), name: s.by })}
          {s.ended && ` · ${t("signals.ended", { time: timeOrDay(s.ended) })}`}
        </span>
        <Failure error={end.error} />
      </span>
      {may && !s.ended && (
        <button type="button" className="link small" onClick={() => setSure(true)}>
          {t("signals.end")}
        </button>
      )}
      {sure && (
        <Confirm
          title={t("signals.end")}
          text={t("signals.endSure", { name: s.name })}
          act={t("signals.end")}
          onAct={() => {
            setSure(false);
            end.mutate({});
          }}
          onClose={() => setSure(false)}
        />
      )}
    </div>
  );
}

interface Fields {
  name: string;
  sites: Named[];
}

function MakeSource({ onClose }: { onClose: (made?: SourceMade) => void }) {
  const { t } = useTranslation();
  const make = useAct("/api/office/signals/sources", {});
  const form = useKeptForm<Fields>("signal source", { name: "", sites: [] });
  const save = (v: Fields, saved: () => void) =>
    make.mutate(
      { name: v.name.trim(), sites: v.sites.map((s) => s.id) },
      {
        onSuccess: (key) => {
          saved();
          onClose(key);
        },
      },
    );
  return (
    <SideDrawer title={t("signals.newSource")} draft={form} onClose={() => onClose()}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="name" label={t("signals.sourceName")} required max={100} />
        <SitesField />
        <p className="small quiet">{t("signals.sourceHint")}</p>
        <Failure error={make.error} />
        <Save busy={make.isPending} />
      </Form>
    </SideDrawer>
  );
}

function Save({ busy }: { busy: boolean }) {
  const { t } = useTranslation();
  const { sites } = useWatch() as Fields;
  return <SaveButton busy={busy || sites.length === 0}>{t("signals.make")}</SaveButton>;
}

/** The sites whose machines it reports of. */
function SitesField() {
  const { t } = useTranslation();
  const { setValue } = useFormContext<Fields>();
  const { sites } = useWatch() as Fields;
  const set = (to: Named[]) => setValue("sites", to, { shouldDirty: true });
  return (
    <fieldset className={css.group}>
      <legend>{t("signals.sites")}</legend>
      {sites.map((s) => (
        <p className="line" key={s.id}>
          <span className="grow">{s.name}</span>
          <button type="button" className="link small" onClick={() => set(sites.filter((x) => x !== s))}>
            {t("parts.drop")}
          </button>
        </p>
      ))}
      <RecordPick
        key={sites.length}
        type="site"
        label={t("signals.addSite")}
        name=""
        onPick={(hit) => hit && !sites.some((s) => s.id === hit.id) && set([...sites, { id: hit.id, name: hit.title }])}
      />
    </fieldset>
  );
}
