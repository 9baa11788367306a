import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { useLive } from "../../device/live";
import { get } from "../../session/api";
import type { Asset, Customer, CustomerInShort, Site } from "../../types";
import { Empty } from "../../ui/Empty";
import { Tag } from "../../ui/Glyph";
import { guidanceTo } from "../../ui/guidance";
import { useDevice } from "../device";
import { SyncMark } from "../SyncMark";
import { VisitSection } from "../visit/VisitSection";
import { FoundAt } from "./FoundAt";
import { People } from "./People";
import { useDirectory } from "./useDirectory";
import { WorkInShort } from "./WorkInShort";

/** A site with its machines, as far as they are known here. */
interface Placed {
  id: string;
  body: Site;
  assets: { id: string; body: Asset }[];
}

/** The customer's page in short: who they are, where, with what, and what is going on there. Without signal it is what this phone has. */
export default function CustomerScreen() {
  const { t } = useTranslation();
  const { id = "" } = useParams();
  const { customer, sites, work, from } = useCustomer(id);
  const [at, setAt] = useState<{ customer: string; site: string; asset?: string }>();
  if (!customer) return <main className="plain">{from === "none" && <Empty>{t("customer.unknown")}</Empty>}</main>;
  return (
    <main className="plain">
      <header className="screen-head">
        <div>
          <Link className="link small" to="/field">
            {t("customer.back")}
          </Link>
          <h1>{customer.name}</h1>
          <p className="small quiet">{from === "phone" ? t("customer.onPhone") : customer.address}</p>
        </div>
        <SyncMark />
      </header>
      {customer.note && (
        <p className="pre">
          <Tag kind="warn">{t("visit.note")}</Tag> {customer.note}
        </p>
      )}
      <People subject={{ type: "customer", id }} record={customer} title={t("customer.people")} />
      {sites.map(({ id: site, body, assets }) => (
        <VisitSection key={site} id={`site-${site}`} title={body.name} end={<Directions site={body} />}>
          <p className="small quiet">{body.address}</p>
          {[body.note, body.hazard, body.access].filter(Boolean).map((line) => (
            <p className="pre small" key={line}>
              {line}
            </p>
          ))}
          {assets
            .filter((a) => !a.body.parent)
            .map((a) => (
              <Machine key={a.id} machine={a} all={assets} onWork={() => setAt({ customer: id, site, asset: a.id })} />
            ))}
          <People subject={{ type: "site", id: site }} record={body} above={customer.contact} />
          <button type="button" className="link" onClick={() => setAt({ customer: id, site })}>
            {t("customer.work", { site: body.name })}
          </button>
        </VisitSection>
      ))}
      <WorkInShort sites={sites.map((s) => s.id)} work={work} />
      {at && <FoundAt at={at} onClose={() => setAt(undefined)} />}
    </main>
  );
}

function Machine({ machine, all, onWork }: { machine: Placed["assets"][number]; all: Placed["assets"]; onWork: () => void }) {
  const { t } = useTranslation();
  const { name, maker, serial, note } = machine.body;
  const parts = all.filter((a) => a.body.parent === machine.id);
  return (
    <div className="line">
      <span className="grow">
        {name}
        <span className="small quiet block">{[maker, serial].filter(Boolean).join(" · ")}</span>
        {note && <span className="small block pre">{note}</span>}
        {parts.length > 0 && <span className="small quiet block">{parts.map((p) => p.body.name).join(" · ")}</span>}
      </span>
      <button type="button" className="link" aria-label={t("customer.workOn", { machine: name })} onClick={onWork}>
        {t("customer.open")}
      </button>
    </div>
  );
}

function Directions({ site }: { site: Site }) {
  const { t } = useTranslation();
  if (site.lat === undefined) return null;
  return <a href={guidanceTo(site)}>{t("visit.directions")}</a>;
}

/** From where a customer's page is: none, when neither the office could be asked nor this phone knows them; undefined while that is not known. */
type From = "office" | "phone" | "none";

/** A customer as the office has them, or as this phone knows them. */
function useCustomer(id: string): { customer?: Customer; sites: Placed[]; work?: CustomerInShort["work"]; from?: From } {
  const { db } = useDevice();
  const [asked, setAsked] = useState<CustomerInShort | "failed">();
  const directory = useDirectory();
  useEffect(() => {
    let here = true;
    const ask = () =>
      get("/api/directory/:customer", { customer: id })
        .then(async (page) => {
          await db.adopt(page.docs);
          if (here) setAsked(page);
        })
        .catch(() => here && setAsked((before) => before ?? "failed"));
    void ask();
    addEventListener("online", ask);
    return () => {
      here = false;
      removeEventListener("online", ask);
    };
  }, [db, id]);
  const own = useLive(
    db,
    async (db) => ({
      customer: await db.body("customer", id),
      sites: (await db.all("site")).filter((s) => s.body.customer === id),
      assets: await db.all("asset"),
    }),
    [id],
  );
  const office = asked !== undefined && asked !== "failed" ? asked : undefined;
  const told = office?.docs ?? directory?.index.records(id) ?? [];
  const records = <B,>(type: string, here: { id: string; body: B }[] = []) => {
    const all = told.flatMap((d) => (d.type === type ? [{ id: d.id, body: d.body as B }] : []));
    const newer = (d: { id: string; body: B }) => here.find((o) => o.id === d.id) ?? d;
    return [...all.map(newer), ...here.filter((o) => !all.some((d) => d.id === o.id))];
  };
  const customer = own?.customer ?? records<Customer>("customer")[0]?.body;
  const assets = records("asset", own?.assets).filter((a) => !a.body.removed && !a.body.struck);
  return {
    customer,
    sites: own ? records("site", own.sites).map((s) => ({ ...s, assets: assets.filter((a) => a.body.site === s.id) })) : [],
    work: office?.work,
    from: office ? "office" : customer ? "phone" : asked && own && "none",
  };
}
