import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { amendment, assetFields, type Field, siteFields } from "../../records";
import type { Asset, Ref, Site } from "../../types";
import { Fields } from "../../ui/Fields";
import { LayerDrawer } from "../../ui/Layers";
import { useDevice, useRecord } from "../device";

export function CorrectSite({ id, site }: { id: string; site: Site }) {
  const { t } = useTranslation();
  return <Correct subject={{ type: "site", id }} record={site} fields={siteFields} title={t("correct.site", { name: site.name })} />;
}

export function CorrectAsset({ id, asset }: { id?: string; asset: Asset }) {
  const { t } = useTranslation();
  return id ? <Correct subject={{ type: "asset", id }} record={asset} fields={assetFields} title={t("correct.asset", { name: asset.name })} /> : null;
}

interface Props {
  subject: Ref;
  record: Site | Asset;
  fields: Field[];
  title: string;
}

/** Corrects what is known of a site or a machine, for everybody. */
function Correct(props: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="links-button" onClick={() => setOpen(true)} aria-label={props.title}>
        {t("correct")}
      </button>
      {open && (
        <LayerDrawer anchor="bottom" onClose={() => setOpen(false)}>
          <Form {...props} onClose={() => setOpen(false)} />
        </LayerDrawer>
      )}
    </>
  );
}

function Form({ subject, record, fields, title, onClose }: Props & { onClose: () => void }) {
  const { t } = useTranslation();
  const { tell } = useDevice();
  const save = useRecord();
  // seen: what was there when the first word was typed
  const draft = useDraft<{ seen: Site | Asset; values: Record<string, string> }>(`correct ${subject.type} ${subject.id}`, { seen: record, values: {} });
  const { seen, values } = draft.value;
  const change = amendment(seen, values);
  const submit = async () => {
    if (change && (await save("record.amended", subject, change.patch, { base: change.base }))) {
      draft.clear();
      tell(t("correct.done"));
      onClose();
    }
  };
  return (
    <form
      className="choices field correct"
      onSubmit={(e) => {
        e.preventDefault();
        void submit();
      }}
    >
      <h2>{title}</h2>
      <p className="small quiet">{t("correct.hint")}</p>
      <Fields record={seen} fields={fields} values={values} onChange={(values) => draft.change({ seen, values })} />
      <Button type="submit" variant="contained" disabled={!change}>
        {t("correct.save")}
      </Button>
      <ThrowAway draft={draft} />
      <button type="button" className="link" onClick={onClose}>
        {t("choose.cancel")}
      </button>
    </form>
  );
}
