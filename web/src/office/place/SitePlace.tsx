import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { rightTo, useMay } from "../../session/session";
import type { MapPoint, RecordPage, Site } from "../../types";
import { Tag } from "../../ui/Glyph";
import { Failure, useCommands } from "../queries";
import { PinMap } from "./PinMap";
import { useAddresses } from "./useAddresses";

const placeOf = (site: Site): MapPoint | undefined => (site.lat || site.lon ? { lat: site.lat ?? 0, lon: site.lon ?? 0 } : undefined);

/** Where a site is: on the map, by its address, or by hand. */
export function SitePlace({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const site = page.body as Site;
  const may = useMay(rightTo("record.amended", "site"));
  const commands = useCommands();
  const draft = useDraft<{ at?: MapPoint; had?: MapPoint }>(`place site/${page.ref.id}`, {});
  const known = placeOf(site);
  const { at } = draft.value;
  const found = useAddresses(may && !known && !at ? (site.address ?? "") : "");
  const put = (p: MapPoint) => draft.change({ at: p, had: at ? draft.value.had : known });
  const save = () => {
    const { had } = draft.value;
    const base = { lat: had?.lat ?? null, lon: had?.lon ?? null };
    if (at) commands.mutate([{ kind: "record.amended", subject: page.ref, body: at, base }], { onSuccess: draft.clear });
  };
  return (
    <section className="sec" aria-label={t("place.title")}>
      <h2>{t("place.title")}</h2>
      {!known && !at && (
        <p>
          <Tag kind="warn">{t("place.none")}</Tag>
        </p>
      )}
      {found.map((f) => (
        <p className="line" key={`${f.address} ${f.at.lat}`}>
          <span className="grow">
            {f.address} <span className="small quiet">{t(`address.${f.precision}`)}</span>
          </span>
          <Button onClick={() => put(f.at)}>{t("place.put")}</Button>
        </p>
      ))}
      <PinMap name={site.name} at={at ?? known} onPlace={may ? put : undefined} />
      {at && (
        <div className="line">
          <Button variant="contained" disabled={commands.isPending} onClick={save}>
            {t("place.save")}
          </Button>
          <ThrowAway draft={draft} />
        </div>
      )}
      <Failure error={commands.error} />
    </section>
  );
}
