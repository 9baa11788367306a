import { MenuItem, TextField } from "@mui/material";
import type { UseQueryResult } from "@tanstack/react-query";
import { type ReactNode, type RefObject, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { rightTo, useMay } from "../../session/session";
import type { Caller } from "../../types";
import { Tag } from "../../ui/Glyph";
import { AddressField } from "../place/AddressField";
import { PinMap } from "../place/PinMap";
import { Failure, useFind, useKinds } from "../queries";
import { type Call, made, nobody } from "./call";
import css from "./Intake.module.css";
import { Known } from "./Known";

interface Props {
  call: Call;
  caller: UseQueryResult<Caller>;
  change: (patch: Partial<Call>) => void;
}

/** Who calls, and where and on what the work is: known, or made in place. */
export function CallerFields({ call, caller, change }: Props) {
  const { t } = useTranslation();
  const known = caller.data;
  const field = (name: keyof Call & string, label: string, more: More = {}) => (
    <TextField
      label={label}
      value={call[name] as string}
      onChange={(e) => change({ [name]: e.target.value })}
      autoFocus={more.focus}
      inputRef={more.at}
      slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
    />
  );
  const isNew = call.caller === made;
  return (
    <>
      <p className="line">
        <span className="grow">
          <span className="tiny quiet block">{t(isNew ? "intake.customerNew" : "intake.customer")}</span>
          {!isNew && (
            <>
              <b>{known?.customer.name}</b> <span className="quiet">{known?.customer.contact.phone}</span>
            </>
          )}
        </span>
        <button type="button" className="link" onClick={() => change(nobody)}>
          {t("intake.change")}
        </button>
      </p>
      <Failure error={caller.error} />
      {!isNew && known?.customer.note && (
        <p className="small">
          <Tag kind="warn">{known.customer.note}</Tag>
        </p>
      )}
      {isNew && <SameName name={call.name} onTake={(id) => change({ ...nobody, caller: `customer/${id}` })} />}
      {isNew && (
        <>
          <div className="pair">
            {field("name", t("intake.name"), { focus: !call.name })}
            {field("phone", t("field.contact.phone"), { focus: !!call.name })}
          </div>
          <div className="pair">
            {field("contact", t("field.contact.name"))}
            <AddressField
              label={t("intake.address")}
              value={call.address}
              onChange={(address) => change({ address })}
              onTake={(f) => change({ address: f.address, ...(call.siteAddress.trim() || call.siteAt ? {} : { siteAt: f.at }) })}
            />
          </div>
        </>
      )}
      <Place call={call} known={known} change={change} field={field} />
      <Known call={call} known={known} />
    </>
  );
}

/** Whether a new customer has the name of one there is. */
function SameName({ name, onTake }: { name: string; onTake: (id: string) => void }) {
  const { t } = useTranslation();
  const typed = name.trim();
  const hits = useFind(typed.length > 2 ? typed : "").data?.hits ?? [];
  const same = hits.find((h) => h.type === "customer" && h.title.toLowerCase() === typed.toLowerCase());
  if (!same) return null;
  return (
    <p className="line" role="status">
      <span className="grow">
        <Tag kind="warn">{t("intake.sameName")}</Tag>
        <span className="small quiet block">{same.detail}</span>
      </span>
      <button type="button" className="link" onClick={() => onTake(same.id)}>
        {t("intake.takeThem")}
      </button>
    </p>
  );
}

interface More {
  focus?: boolean;
  at?: RefObject<HTMLInputElement | null>;
}

interface PlaceProps {
  call: Call;
  known?: Caller;
  change: (patch: Partial<Call>) => void;
  field: (name: keyof Call & string, label: string, more?: More) => ReactNode;
}

function Place({ call, known, change, field }: PlaceProps) {
  const { t } = useTranslation();
  const kinds = useKinds().data ?? [];
  const [maySite, mayAsset] = [useMay(rightTo("record.created", "site")), useMay(rightTo("record.created", "asset"))];
  const site = known?.sites.find((s) => s.id === call.site);
  const [atSite, atAsset] = [useRef<HTMLInputElement>(null), useRef<HTMLInputElement>(null)];
  // Whoever chose something new goes on with its name: once the list is away, which gives the focus back to the field.
  const then = (chosen: string, at: RefObject<HTMLInputElement | null>) => ({
    select: { MenuProps: { slotProps: { transition: { onExited: () => chosen === made && at.current?.focus() } } } },
  });
  const newSite = call.site === made && (
    <div className={css.inset}>
      <div className="pair">
        {field("siteName", t(call.caller === made ? "intake.siteNameSame" : "intake.siteName"), { at: atSite })}
        <AddressField
          label={t("intake.siteAddress")}
          value={call.siteAddress}
          onChange={(siteAddress) => change({ siteAddress })}
          onTake={(f) => change({ siteAddress: f.address, siteAt: f.at })}
        />
      </div>
      {field("siteAccess", t("field.access"))}
    </div>
  );
  return (
    <>
      {!known && newSite}
      <div className="pair">
        {known && (
          <TextField
            select
            label={t("intake.site")}
            value={known.sites.some((s) => s.id === call.site) || call.site === made ? call.site : ""}
            required
            onChange={(e) => change({ site: e.target.value, asset: "" })}
            slotProps={then(call.site, atSite)}
          >
            {known.sites.map((s) => (
              <MenuItem key={s.id} value={s.id}>
                {s.site.name}
              </MenuItem>
            ))}
            {maySite && <MenuItem value={made}>{t("intake.newSite")}</MenuItem>}
          </TextField>
        )}
        <TextField
          select
          label={t("intake.asset")}
          value={call.asset}
          onChange={(e) => change({ asset: e.target.value })}
          disabled={call.site === ""}
          slotProps={then(call.asset, atAsset)}
        >
          <MenuItem value="">{t("intake.noAsset")}</MenuItem>
          {site?.assets.map((a) => (
            <MenuItem key={a.id} value={a.id}>
              {a.name}
            </MenuItem>
          ))}
          {mayAsset && <MenuItem value={made}>{t("intake.newAsset")}</MenuItem>}
        </TextField>
      </div>
      {known && newSite}
      {call.asset === made && (
        <div className={css.inset}>
          <div className="pair">
            {field("assetName", t("intake.assetName"), { at: atAsset })}
            <TextField select label={t("intake.assetKind")} value={call.assetKind} onChange={(e) => change({ assetKind: e.target.value })}>
              <MenuItem value="">{t("orderPage.none")}</MenuItem>
              {kinds.map((k) => (
                <MenuItem key={k.id} value={k.id}>
                  {k.kind.name}
                </MenuItem>
              ))}
            </TextField>
          </div>
          {field("assetSerial", t("field.serial"))}
        </div>
      )}
      {call.site === made && <NewPlace call={call} change={change} />}
    </>
  );
}

/** Where a new site is: it is found by its address, or put on the map. */
function NewPlace({ call, change }: Pick<PlaceProps, "call" | "change">) {
  const { t } = useTranslation();
  const [asked, setAsked] = useState(false);
  const shown = asked || call.siteAt !== undefined;
  if (!shown)
    return (
      <button type="button" className="link" onClick={() => setAsked(true)}>
        {t("intake.putOnMap")}
      </button>
    );
  return <PinMap name={call.siteName || call.name || t("intake.newSite")} at={call.siteAt} onPlace={(siteAt) => change({ siteAt })} />;
}
