import { Button, TextField } from "@mui/material";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { type CoreError, core } from "../../device/core";
import { useLive } from "../../device/live";
import { where } from "../../device/record";
import { useDraft } from "../../draft/draft";
import type { VisitView } from "../../types";
import { longDate, momentOf } from "../../ui/format";
import { LayerDialog } from "../../ui/Layers";
import { type Ink, noInk, Pad, strokesOf, withoutLast } from "../../ui/Pad";
import { SummaryPage } from "../../ui/SummaryPage";
import { say } from "../../words/i18n";
import { useDevice, useRecord, useSettings } from "../device";
import { type ToSign, useTogether } from "./useTogether";

/** A signature that is being given: who, what they drew, and the other work that was turned from how it comes to the opposite. */
interface Signing {
  name: string;
  role: string;
  ink: Ink;
  turned: string[];
}

interface Props {
  view: VisitView;
  onClose: () => void;
  onAbsent: () => void;
}

/** The signer sees exactly what is signed, of one work order or of several at the site; the signature is bound to it. */
export default function SignDialog({ view, onClose, onAbsent }: Props) {
  const { t } = useTranslation();
  const { db, tell } = useDevice();
  const record = useRecord();
  const [day, setDay] = useState("");
  const shown = useTogether(view, day);
  const draft = useDraft<Signing>(`signature ${view.id}`, { name: "", role: "", ink: noInk, turned: [] });
  const { name, role, ink, turned } = draft.value;
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  // Those that this signer has signed already, should one after them be refused.
  const signed = useRef(new Set<string>());
  const isIn = (o: ToSign) => o.colleague === turned.includes(o.id);
  const all = shown ? [shown.own, ...shown.others.filter(isIn)] : [];

  const save = async (more: boolean) => {
    const strokes = strokesOf(ink);
    try {
      core("strokes", strokes);
    } catch (e) {
      setWrong(say((e as CoreError).code));
      return;
    }
    if (!name.trim()) {
      setWrong(say({ code: "signature.name" }));
      return;
    }
    setBusy(true);
    const signer = { name: name.trim(), role: role.trim(), strokes, where: where() };
    for (const s of all) {
      if (signed.current.has(s.id)) continue;
      // A colleague's visit that has left this device meanwhile keeps nobody from signing for the rest.
      if (s.colleague && !(await db.body("visit", s.id))) {
        tell(t("sign.notHere", { number: s.summary.order, name: s.summary.person }));
        continue;
      }
      const together = all.flatMap((x) => (x.id === s.id ? [] : [x.id]));
      const body = { ...signer, summary: s.summary, digest: s.digest, with: together.length > 0 ? together : undefined };
      if (!(await record("signoff.captured", s.id, body))) {
        setBusy(false);
        return; // what is wrong was told; those before it are signed
      }
      signed.current.add(s.id);
    }
    setBusy(false);
    if (signed.current.size > 1) tell(t("sign.together", { count: signed.current.size }));
    signed.current.clear();
    draft.clear();
    if (!more) onClose();
  };
  return (
    <LayerDialog fullScreen onClose={onClose} aria-labelledby="sign-title">
      <div className="sign field">
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it can be long, and a keyboard has to reach it to scroll */}
        <section className="sign-shown" tabIndex={0} aria-label={t("sign.intro")}>
          <h1 id="sign-title">{t("sign.title")}</h1>
          <p className="small quiet">{t("sign.intro")}</p>
          {view.days.length > 1 && <DayChoice days={view.days} day={day} onDay={setDay} />}
          {shown && <SummaryPage summary={shown.own.summary} />}
          {shown && shown.others.length > 0 && (
            <Others
              others={shown.others}
              isIn={isIn}
              onTurn={(id) => draft.change({ turned: turned.includes(id) ? turned.filter((x) => x !== id) : [...turned, id] })}
            />
          )}
        </section>
        <div className="sign-form">
          <Signer view={view} name={name} role={role} onSigner={draft.change} />
          <Pad
            ink={ink}
            label={t("sign.pad")}
            onInk={(ink) => {
              draft.change({ ink });
              setWrong("");
            }}
          />
          <div role="alert" className="tag bad">
            {wrong}
          </div>
          <div className="sign-actions">
            <button type="button" className="link" onClick={onClose}>
              {t("choose.cancel")}
            </button>
            <button
              type="button"
              className="link"
              onClick={() => {
                onClose();
                onAbsent();
              }}
            >
              {t("absent.open")}
            </button>
            <button type="button" className="link" onClick={() => draft.change({ ink: withoutLast(ink) })}>
              {t("sign.undo")}
            </button>
            <button type="button" className="link" onClick={() => draft.change({ ink: noInk })}>
              {t("sign.clear")}
            </button>
            <button type="button" className="link" onClick={() => void save(true)} disabled={busy || !shown}>
              {t("sign.next")}
            </button>
            <Button variant="contained" onClick={() => void save(false)} disabled={busy || !shown}>
              {t("sign.save")}
            </Button>
          </div>
        </div>
      </div>
    </LayerDialog>
  );
}

/** Work over several days is signed for day by day, or as a whole. */
function DayChoice({ days, day, onDay }: { days: string[]; day: string; onDay: (d: string) => void }) {
  const { t } = useTranslation();
  return (
    <div className="options">
      <button type="button" aria-pressed={day === ""} onClick={() => onDay("")}>
        {t("sign.allDays")}
      </button>
      {days.map((d) => (
        <button type="button" key={d} aria-pressed={day === d} onClick={() => onDay(d)}>
          {longDate(momentOf(d, "12:00"))}
        </button>
      ))}
    </div>
  );
}

/** Other work at the site that nobody has signed for: one's own is signed at once unless it is left out, a colleague's when it is taken in. */
function Others({ others, isIn, onTurn }: { others: ToSign[]; isIn: (o: ToSign) => boolean; onTurn: (id: string) => void }) {
  const { t } = useTranslation();
  return (
    <section aria-label={t("sign.others")}>
      <h2>{t("sign.others")}</h2>
      {others.map((o) => (
        <div key={o.id} className="sign-other">
          <label className="check">
            <input type="checkbox" checked={isIn(o)} onChange={() => onTurn(o.id)} />
            {t(o.colleague ? "sign.includeColleague" : "sign.include", { number: o.summary.order, name: o.summary.person })}
          </label>
          {isIn(o) && <SummaryPage summary={o.summary} />}
        </div>
      ))}
    </section>
  );
}

interface SignerProps {
  view: VisitView;
  name: string;
  role: string;
  onSigner: (s: { name?: string; role?: string }) => void;
}

/** Who signs: those who are known there are one tap. */
function Signer({ view, name, role, onSigner }: SignerProps) {
  const { t } = useTranslation();
  const { db } = useDevice();
  const settings = useSettings();
  const roles = settings?.visits.signers?.length ? settings.visits.signers : [t("sign.tenant"), t("sign.owner"), t("sign.lead")];
  const before = useLive(db, (db) => signersAt(db, view.order.site), [view.order.site]) ?? [];
  const contact = view.site.contact;
  const known = [...(contact.name ? [{ name: contact.name, role: contact.role ?? "" }] : []), ...before];
  const people = known.filter((k, i) => known.findIndex((o) => o.name === k.name) === i).slice(0, 4);
  return (
    <>
      {people.length > 0 && (
        <span className="further">
          {people.map((p) => (
            <button type="button" className="chip" key={p.name} aria-pressed={name === p.name} onClick={() => onSigner(p)}>
              {p.name}
            </button>
          ))}
        </span>
      )}
      <div className="sign-names">
        <TextField
          label={t("sign.name")}
          value={name}
          onChange={(e) => onSigner({ name: e.target.value })}
          slotProps={{ htmlInput: { autoComplete: "off", maxLength: 200 } }}
        />
        <TextField
          label={t("sign.role")}
          value={role}
          onChange={(e) => onSigner({ role: e.target.value })}
          placeholder={t("sign.roleHint")}
          slotProps={{ htmlInput: { autoComplete: "off", list: "sign-roles", maxLength: 200 } }}
        />
        <datalist id="sign-roles">
          {roles.map((r) => (
            <option key={r} value={r} />
          ))}
        </datalist>
      </div>
    </>
  );
}

/** Who signed at a site before, as far as this device knows. */
async function signersAt(db: ReturnType<typeof useDevice>["db"], site: string) {
  const out: { name: string; role: string }[] = [];
  for (const v of await db.all("visit")) {
    if (!v.body.signatures?.length || (await db.body("workorder", v.body.order))?.site !== site) continue;
    for (const s of v.body.signatures) if (!s.struck) out.unshift({ name: s.name, role: s.role });
  }
  return out;
}
