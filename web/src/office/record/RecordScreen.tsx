import { Button } from "@mui/material";
import { Fragment } from "react";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { amendment, assetFields, type Field, placeFields } from "../../records";
import { rightTo, useMay } from "../../session/session";
import type { Amendment, Asset, Customer, RecordPage, Site } from "../../types";
import { Fields } from "../../ui/Fields";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { plainValue } from "../../ui/plainValue";
import type { Word } from "../../words/i18n";
import { Measured } from "../checks/Measured";
import { SubstanceLog } from "../checks/SubstanceLog";
import { FlagLine } from "../Look";
import { Papers } from "../Papers";
import { RecordTimes } from "../people/RecordTimes";
import { SitePlace } from "../place/SitePlace";
import { Answer, Failure, useCommands, useRecordPage } from "../queries";
import { MachineSignals } from "../signals/MachineSignals";
import { Around } from "./Around";
import { Covered } from "./Covered";
import { Due } from "./Due";
import { Merge, Twins } from "./Merge";
import { Moves } from "./Move";
import { People } from "./People";
import css from "./Record.module.css";
import { SiteMoves } from "./SiteMoves";
import { SiteWishes } from "./SiteWishes";
import { Timeline } from "./Timeline";
import { Used } from "./Used";
import { Work } from "./Work";

const place: Field[] = [{ path: "name" }, { path: "address" }];
const note: Field = { path: "note", lines: 2 };
const fields: Record<string, Field[]> = {
  customer: [...place, note],
  site: [...place, ...placeFields, note],
  asset: [...assetFields, { path: "warranty", type: "date" }, note],
};

/** A customer, site or machine: what is known of it, who changed it, its documents. */
export function RecordScreen() {
  const { type = "", id = "" } = useParams();
  const query = useRecordPage(type, id);
  return <Answer query={query}>{(page) => <Shown key={`${type}/${id}`} page={page} />}</Answer>;
}

function Shown({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const record = page.body as Site | Asset | Customer;
  const { type } = page.ref;
  return (
    <main className="visit-page">
      <header className="visit-page-head">
        <div>
          <p className="small quiet">
            {t(`records.${type}` as Word)}
            {page.within.map((w) => (
              <Fragment key={`${w.type}/${w.id}`}>
                {" · "}
                <Link to={`/office/records/${w.type}/${w.id}`}>{w.name}</Link>
              </Fragment>
            ))}
          </p>
          <h1>{record.name}</h1>
          {type === "asset" && (record as Asset).warranty && <Covered until={(record as Asset).warranty ?? ""} />}
        </div>
        <Merge page={page} />
      </header>
      <Twins page={page} />
      {record.note && <p className={css.note}>{record.note}</p>}
      {type === "asset" && <Fitted asset={record as Asset} />}
      {type === "asset" && (
        <div className="measured-page">
          <Measured asset={page.ref.id} />
        </div>
      )}
      <div className="visit-columns">
        <div>
          <Clashes page={page} />
          {type !== "asset" && <People page={page} />}
          {fields[type] && <Form page={page} fields={fields[type]} />}
          {type === "site" && <SitePlace page={page} />}
          {type === "site" && (
            <RecordTimes
              subject={page.ref}
              title={t("site.open")}
              always={t("site.alwaysOpen")}
              offTitle={t("site.closed")}
              weeks={["open", (record as Site).open]}
              off={["closed", (record as Site).closed]}
            />
          )}
          {type === "site" && <SiteWishes page={page} />}
          {type === "asset" && <Moves page={page} />}
          {type === "site" && <SiteMoves page={page} />}
          {type !== "customer" && (
            <Papers of={page.ref} papers={(record as Site | Asset).documents} title={t("records.papers")} hint={t("records.papersHint")} />
          )}
          <Around page={page} />
          {["customer", "site", "asset"].includes(type) && <Timeline of={page.ref} />}
          {type === "site" && <SubstanceLog site={page.ref.id} />}
        </div>
        <div>
          {["customer", "site", "asset"].includes(type) && (
            <>
              {type === "asset" && <MachineSignals asset={page.ref.id} />}
              <Work of={page.ref} />
              <Due of={page.ref} name={record.name} />
              <Used of={page.ref} />
            </>
          )}
          <Changes changes={page.changes} />
        </div>
      </div>
    </main>
  );
}

/** Of a component that was fitted on a visit: of what, since when, and how long it is covered. */
function Fitted({ asset: a }: { asset: Asset }) {
  const { t } = useTranslation();
  if (!a.part) return null;
  return (
    <p className="small record-fitted">
      {a.struck ? (
        <Tag kind="bad">{t("records.struck")}</Tag>
      ) : (
        <>
          {t("records.fitted", { part: a.part, date: a.installed })} <Link to={`/office/records/asset/${a.parent}`}>{t("records.parent")}</Link>
          {a.removed && ` · ${t("records.removed", { date: a.removed })}`}
        </>
      )}
    </p>
  );
}

function Clashes({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  if (page.clashes.length === 0) return null;
  return (
    <section className="sec">
      <h2>{t("records.clashes")}</h2>
      {page.clashes.map((c) => (
        <FlagLine key={c.code + c.person} flag={{ ...c, name: page.changes.find((x) => x.entry === c.entry)?.person ?? c.person }} here />
      ))}
    </section>
  );
}

function Form({ page, fields }: { page: RecordPage; fields: Field[] }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const may = useMay(rightTo("record.amended", page.ref.type));
  // What is typed, and the record as it was before the first change.
  const draft = useDraft<{ values: Record<string, string>; had?: unknown }>(`record ${page.ref.type}/${page.ref.id}`, { values: {} });
  const { values, had } = draft.value;
  const typing = Object.keys(values).length > 0;
  const change = amendment(typing ? had : page.body, values);
  const save = () => {
    if (change) commands.mutate([{ kind: "record.amended", subject: page.ref, body: change.patch, base: change.base }], { onSuccess: draft.clear });
  };
  return (
    <form
      className="sec record-form"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      <Fields
        record={page.body}
        fields={fields}
        values={values}
        readOnly={!may}
        onChange={(values) => draft.change(typing ? { values } : { values, had: page.body })}
      />
      {may && (
        <div className="line">
          <Button type="submit" variant="contained" disabled={!change || commands.isPending}>
            {t("records.save")}
          </Button>
          <span role="status">{commands.isSuccess && !change && <Tag kind="good">{t("records.saved")}</Tag>}</span>
          {change && <ThrowAway draft={draft} />}
          <Failure error={commands.error} />
        </div>
      )}
    </form>
  );
}

function Changes({ changes }: { changes: Amendment[] }) {
  const { t } = useTranslation();
  return (
    <section className="sec trail" aria-label={t("records.changes")}>
      <h2>
        {t("records.changes")} <span className="small quiet">{t("records.changesHint")}</span>
      </h2>
      {changes.length === 0 && <p className="quiet">{t("records.noChanges")}</p>}
      <ol>
        {changes.map((c) => (
          <li key={c.entry}>
            <span className="trail-time">{timeOrDay(c.at)}</span>
            <span>
              <b>{c.person}</b> <span className="tiny quiet">{c.device === "office" ? t("trail.office") : c.device}</span>
              {flat(c.patch).map(([path, value]) => (
                <span className="block" key={path}>
                  <span className="small quiet">{t(fieldWord(path), { defaultValue: path })}</span> {value || t("records.empty")}{" "}
                  <span className="tiny quiet struck">{Object.fromEntries(flat(c.base))[path]}</span>
                </span>
              ))}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

const fieldWord = (path: string) => (path.startsWith("documents.") ? "records.papers" : (`field.${path}` as Word));

/** The values of a patch by path; a document is called by its name. */
function flat(patch: unknown, path = ""): [string, string][] {
  if (typeof patch !== "object" || patch === null || Array.isArray(patch)) return [[path, plainValue(patch)]];
  if ("pack" in patch && "name" in patch) return [[path, String((patch as { name: string }).name)]];
  return Object.entries(patch).flatMap(([k, v]) => flat(v, path ? `${path}.${k}` : k));
}
