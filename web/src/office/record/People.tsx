import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { rightTo, useMay } from "../../session/session";
import type { Contact, Customer, EntryDraft, RecordPage, Site } from "../../types";
import { Tag } from "../../ui/Glyph";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands } from "../queries";
import css from "./Record.module.css";

/** The people at a customer or site: the first gets the messages. */
export function People({ page }: { page: RecordPage }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const may = useMay(rightTo("record.amended", page.ref.type));
  const [editing, setEditing] = useState<number>(); // -1: the one whom messages go to; as many as there are: a new one
  const { contact, people = [] } = page.body as Customer | Site;
  const write = (body: { contact?: Contact; people?: Contact[] }): EntryDraft[] => {
    const base = { ...(body.contact && { contact }), ...(body.people && { people: people.length > 0 ? people : null }) };
    return [{ kind: "record.amended", subject: page.ref, body, base }];
  };
  const prefer = (i: number) => commands.mutate(write({ contact: whole(people[i]), people: people.map((p, k) => (k === i ? contact : p)) }));
  const drop = (i: number) => commands.mutate(write({ people: people.filter((_, k) => k !== i) }));
  const all = [contact, ...people];
  return (
    <section className="sec" aria-label={t("people.title")}>
      <h2>
        {t("people.title")}
        {may && (
          <Button size="small" onClick={() => setEditing(people.length)}>
            {t("people.add")}
          </Button>
        )}
      </h2>
      {all.map((p, k) => {
        const i = k - 1;
        if (!p?.name && !p?.phone && !p?.email) return null;
        return (
          <div className="line" key={`${p.name} ${p.phone} ${p.email}`}>
            <span className="grow">
              <b>{p.name}</b> <span className="small quiet">{p.role}</span>
              <span className="small block">
                {p.phone && <a href={`tel:${p.phone.replaceAll(" ", "")}`}>{p.phone}</a>} {p.email && <a href={`mailto:${p.email}`}>{p.email}</a>}
              </span>
              {i < 0 && all.length > 1 && <Tag kind="good">{t("people.preferred")}</Tag>}
            </span>
            {may && (
              <span className={css.acts}>
                {i >= 0 && (
                  <button type="button" className="link small" disabled={commands.isPending} onClick={() => prefer(i)}>
                    {t("people.prefer")}
                  </button>
                )}
                <button type="button" className="link small" aria-label={t("people.edit", { name: p.name })} onClick={() => setEditing(i)}>
                  {t("people.change")}
                </button>
                {i >= 0 && (
                  <button
                    type="button"
                    className="link small"
                    disabled={commands.isPending}
                    aria-label={t("people.drop", { name: p.name })}
                    onClick={() => drop(i)}
                  >
                    {t("parts.drop")}
                  </button>
                )}
              </span>
            )}
          </div>
        );
      })}
      <Failure error={commands.error} />
      {editing !== undefined && (
        <Edit
          name={`${page.ref.type} ${page.ref.id} ${editing}`}
          person={editing < 0 ? contact : people[editing]}
          draft={(p) => (editing < 0 ? write({ contact: p }) : write({ people: editing < people.length ? people.with(editing, p) : [...people, p] }))}
          onClose={() => setEditing(undefined)}
        />
      )}
    </section>
  );
}

/** A contact with all of its fields: a merge patch leaves those alone that it does not name. */
const whole = (p: Contact): Contact => ({ name: p.name, role: p.role ?? "", phone: p.phone ?? "", email: p.email ?? "" });

interface EditProps {
  name: string;
  person?: Contact;
  draft: (p: Contact) => EntryDraft[];
  onClose: () => void;
}

function Edit({ name, person, draft, onClose }: EditProps) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm(`person of ${name}`, whole(person ?? { name: "" }));
  const save = (p: Contact, saved: () => void) =>
    commands.mutate(draft(p), {
      onSuccess: () => {
        saved();
        onClose();
      },
    });
  return (
    <SideDrawer title={person ? t("people.edit", { name: person.name }) : t("people.add")} draft={form} onClose={onClose}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="name" label={t("field.contact.name")} required max={200} />
        <TextInput name="role" label={t("field.contact.role")} max={200} />
        <TextInput name="phone" label={t("field.contact.phone")} max={200} />
        <TextInput name="email" label={t("field.contact.email")} max={200} />
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending}>{t("records.save")}</SaveButton>
      </Form>
    </SideDrawer>
  );
}
