import type { TFunction } from "i18next";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { SaveButton } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { useMay } from "../../session/session";
import type { Asset, Contact, Customer, EntryDraft, Hanging, RecordPage, Site } from "../../types";
import { SideDrawer } from "../../ui/SideDrawer";
import { Answer, Failure, useCommands, useQuestion, useRecordPage } from "../queries";
import css from "./Record.module.css";
import { RecordPick } from "./RecordPick";

/** That a record turned out to be another, or that others turned out to be it. */
export function Twins({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const { type } = page.ref;
  if (!page.merged && page.twins.length === 0) return null;
  return (
    <div className={css.note}>
      {page.merged && (
        <>
          {t("merge.is")} <Link to={`/office/records/${type}/${page.merged.id}`}>{page.merged.name}</Link>. <Part page={page} />
        </>
      )}
      {page.twins.length > 0 && (
        <>
          {t("merge.were")}{" "}
          {page.twins.map((x, i) => (
            <span key={x.id}>
              {i > 0 && ", "}
              <Link to={`/office/records/${type}/${x.id}`}>{x.name}</Link>
            </span>
          ))}
        </>
      )}
    </div>
  );
}

/** They are two after all: what went along comes back, but for what somebody moved on since. */
function Part({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const may = useMay("record.parted");
  const commands = useCommands();
  if (!may) return null;
  return (
    <>
      <button
        type="button"
        className="link"
        disabled={commands.isPending}
        onClick={() => commands.mutate([{ kind: "record.parted", subject: page.ref, body: page.along }])}
      >
        {t("merge.part")}
      </button>
      <Failure error={commands.error} />
    </>
  );
}

/** Has a record that turned out to be another become that one. */
export function Merge({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const may = useMay("record.merged");
  if (!may || page.merged) return null;
  return (
    <>
      <button type="button" className="link" onClick={() => setOpen(true)}>
        {t("merge.open")}
      </button>
      {open && <MergeDrawer page={page} onClose={() => setOpen(false)} />}
    </>
  );
}

function MergeDrawer({ page, onClose }: { page: RecordPage; onClose: () => void }) {
  const { t } = useTranslation();
  const type = page.ref.type as "customer" | "site" | "asset";
  const form = useKeptForm(`merge ${type} ${page.ref.id}`, { into: "", name: "" });
  const { into, name } = form.fields.watch();
  const hanging = useQuestion("/api/office/hanging/:type/:id", page.ref);
  const other = useRecordPage(type, into, into !== "");
  const commands = useCommands({ form: true });
  const save = (h: Hanging, to: RecordPage, saved: () => void) => {
    const body = { into, sites: h.sites, assets: h.assets, orders: h.orders };
    commands.mutate([{ kind: "record.merged", subject: page.ref, body }, ...added(page, to)], {
      onSuccess: () => {
        saved();
        onClose();
      },
    });
  };
  return (
    <SideDrawer title={t("merge.open")} about={t("merge.about", { name: (page.body as Site).name })} draft={form} onClose={onClose}>
      <Answer query={hanging}>
        {(h) => (
          <Form form={form} className={css.form} onSave={(_, saved) => other.data && save(h, other.data, saved)}>
            <RecordPick
              type={type}
              label={t(`merge.with.${type}`)}
              name={into && name}
              except={page.ref.id}
              onPick={(hit) => {
                form.fields.setValue("name", hit ? [hit.title, hit.detail].filter(Boolean).join(" · ") : "", { shouldDirty: true });
                form.fields.setValue("into", hit?.id ?? "", { shouldDirty: true });
              }}
            />
            <p>{t("merge.along", { what: whatGoes(t, h) })}</p>
            <p className="small quiet">{t("merge.stays")}</p>
            <Failure error={commands.error ?? (into && other.error)} />
            <SaveButton busy={commands.isPending || !into || other.data?.ref.id !== into}>{t("merge.save")}</SaveButton>
          </Form>
        )}
      </Answer>
    </SideDrawer>
  );
}

const whatGoes = (t: TFunction, h: Hanging) =>
  [
    h.sites.length > 0 && t("merge.sites", { count: h.sites.length }),
    h.assets.length > 0 && t("merge.assets", { count: h.assets.length }),
    t("merge.orders", { count: h.orders.length }),
  ]
    .filter(Boolean)
    .join(", ");

const called = (c: Contact) => [c.name, c.phone, c.email].map((x) => x ?? "").join("\n");

/** What the other gets that only this one says: people, papers, and the note that stands out. */
export function added(from: RecordPage, to: RecordPage): EntryDraft[] {
  const [a, b] = [from.body, to.body] as (Customer & Site & Asset)[];
  const patch: Record<string, unknown> = {};
  const base: Record<string, unknown> = {};
  if (from.ref.type !== "asset") {
    const there = new Set([b.contact, ...(b.people ?? [])].filter(Boolean).map(called));
    const more = [a.contact, ...(a.people ?? [])].filter((c) => c?.name && !there.has(called(c)));
    if (more.length > 0) {
      patch.people = [...(b.people ?? []), ...more];
      base.people = b.people ?? null;
    }
  }
  const papers = Object.entries(a.documents ?? {}).filter(([hash]) => !b.documents?.[hash]);
  if (papers.length > 0) patch.documents = Object.fromEntries(papers);
  if (a.note && !b.note?.includes(a.note)) {
    patch.note = [b.note, a.note].filter(Boolean).join("\n");
    base.note = b.note ?? null;
  }
  return Object.keys(patch).length > 0 ? [{ kind: "record.amended", subject: to.ref, body: patch, base }] : [];
}
