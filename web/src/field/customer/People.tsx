import { Button, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { useDraft } from "../../draft/draft";
import type { Contact, Customer, Ref, Site } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useDevice, useRecord } from "../device";
import { VisitSection } from "../visit/VisitSection";

interface Props {
  subject: Ref;
  record: Customer | Site;
  /** who is listed above, and not again: the same person answers at many sites */
  above?: Contact;
  title?: string;
}

const callable = (phone: string) => phone.replaceAll(" ", "");

/** The people at a customer or a site, to call, to add and to correct. The first gets the messages. */
export function People({ subject, record, above, title }: Props) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const [editing, setEditing] = useState<number>(); // -1: the one whom messages go to; as many as there are others: a new one
  const may = useLive(db, (db) => db.hasWhole(subject), [subject.type, subject.id]); // a list of which some are missing can't be added to
  const { contact, people = [] } = record;
  const lines = (
    <>
      {[contact, ...people].map((p, at) =>
        (p?.name || p?.phone || p?.email) && !(above?.name === p.name && above?.phone === p.phone) ? (
          <div className="line" key={`${p.name} ${p.phone} ${p.email}`}>
            <span className="grow">
              {p.name}
              <span className="small quiet block">{[p.role, p.email].filter(Boolean).join(" · ")}</span>
              <span className="small quiet block">{p.phone}</span>
            </span>
            <span className="links">
              {p.phone && <a href={`tel:${callable(p.phone)}`}>{t("visit.call")}</a>}
              {p.phone && <a href={`sms:${callable(p.phone)}`}>{t("visit.message")}</a>}
              {may && (
                <button type="button" className="links-button" aria-label={t("people.edit", { name: p.name })} onClick={() => setEditing(at - 1)}>
                  {t("people.change")}
                </button>
              )}
            </span>
          </div>
        ) : null,
      )}
      {may && (
        <button type="button" className="link" onClick={() => setEditing(people.length)}>
          {title ? t("people.add") : t("customer.addAt", { site: record.name })}
        </button>
      )}
      {may === false && title && <p className="small quiet">{t("customer.peopleLater")}</p>}
      {editing !== undefined && <Edit subject={subject} record={record} at={editing} onClose={() => setEditing(undefined)} />}
    </>
  );
  return title ? (
    <VisitSection id={`people-${subject.id}`} title={title}>
      {lines}
    </VisitSection>
  ) : (
    lines
  );
}

const fields = ["name", "role", "phone", "email"] as const;
const types = { phone: "tel", email: "email" } as Record<string, string | undefined>;

/** Adds or corrects one of the people, in a list that was seen when the first word was typed. */
function Edit({ subject, record, at, onClose }: { subject: Ref; record: Customer | Site; at: number; onClose: () => void }) {
  const { t } = useTranslation();
  const { tell } = useDevice();
  const save = useRecord();
  const people = record.people ?? [];
  const draft = useDraft<{ seen: Contact[]; contact: Contact; typed: Partial<Contact> }>(
    `person ${subject.type} ${subject.id} ${at < people.length ? at : "new"}`,
    {
      seen: people,
      contact: record.contact,
      typed: {},
    },
  );
  const { seen, contact, typed } = draft.value;
  const fresh = at >= people.length;
  const was: Contact | undefined = fresh ? undefined : at < 0 ? contact : seen[at];
  const is = Object.fromEntries(fields.map((f) => [f, (typed[f] ?? was?.[f] ?? "").trim()])) as unknown as Contact;
  const submit = async () => {
    const body = at < 0 ? { contact: is } : { people: fresh ? [...seen, is] : seen.with(at, is) };
    const base = at < 0 ? { contact } : { people: seen.length > 0 ? seen : null };
    if (!(await save("record.amended", subject, body, { base }))) return;
    draft.clear();
    tell(t("correct.done"));
    onClose();
  };
  return (
    <ChoiceDrawer title={was ? t("people.edit", { name: was.name }) : t("people.add")} draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        {fields.map((f) => (
          <TextField
            key={f}
            type={types[f]}
            required={f === "name"}
            label={t(`field.contact.${f}`)}
            value={typed[f] ?? was?.[f] ?? ""}
            onChange={(e) => draft.change({ seen, contact, typed: { ...typed, [f]: e.target.value } })}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
        ))}
      </div>
      <Button variant="contained" fullWidth disabled={is.name === "" || Object.keys(typed).length === 0} onClick={() => void submit()}>
        {t("records.save")}
      </Button>
    </ChoiceDrawer>
  );
}
