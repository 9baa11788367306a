import { Button, MenuItem, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { DateField, TimeField } from "../form/dates";
import type { CustomerHit, Need, Priority } from "../types";
import { typedNumber } from "../ui/decimal";
import { isoDate, isTime, moment, timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { Sure, useSure } from "../ui/Sure";
import { PlanDrawer } from "./PlanDrawer";
import { promiseOf } from "./promise";
import { Failure, useBoard, useCommands, useCustomers, useSettings, useSheets } from "./queries";
import { NeedsField, needsFine } from "./stores/NeedsField";

/** Opening a work order: who calls, from where, what is wrong, by when. */
export function Intake() {
  const { t } = useTranslation();
  const [customer, setCustomer] = useState<CustomerHit>();
  const [opened, setOpened] = useState<string>();
  const [said, setSaid] = useState("");
  const found = useBoard(isoDate(Date.now())).data?.unplaced.find((o) => o.id === opened);
  // Somebody else may plan it meanwhile: what is half filled in here stays.
  const [kept, setKept] = useState(found);
  if (found && found !== kept) setKept(found);
  const order = opened ? (found ?? (kept?.id === opened ? kept : undefined)) : undefined;
  return (
    <main className="intake">
      <h1>{t("intake.title")}</h1>
      <p role="status">{said}</p>
      {customer ? (
        <OrderForm
          key={customer.id}
          customer={customer}
          onChange={() => setCustomer(undefined)}
          onOpened={(id) => {
            setOpened(id);
            setSaid("");
          }}
        />
      ) : (
        <CustomerSearch
          onPick={(c) => {
            setCustomer(c);
            setSaid("");
          }}
        />
      )}
      {order && (
        <PlanDrawer
          order={order}
          date={isoDate(Date.now())}
          onDone={(s) => setSaid(s)}
          onClose={() => {
            setSaid((s) => s || t("intake.opened", { number: order.number }));
            setOpened(undefined);
            setCustomer(undefined);
          }}
        />
      )}
    </main>
  );
}

function CustomerSearch({ onPick }: { onPick: (c: CustomerHit) => void }) {
  const { t } = useTranslation();
  const [text, setText] = useState("");
  const found = useCustomers(text);
  return (
    <>
      <TextField label={t("intake.find")} value={text} onChange={(e) => setText(e.target.value)} autoFocus slotProps={{ htmlInput: { autoComplete: "off" } }} />
      {text.trim().length < 2 && <p className="small quiet">{t("intake.hint")}</p>}
      <Failure error={found.error} />
      {found.data?.length === 0 && <p className="empty">{t("intake.noMatch")}</p>}
      <ul>
        {found.data?.map((c) => (
          <li key={c.id}>
            <button type="button" className="choice" onClick={() => onPick(c)}>
              <span>
                <span className="strong block">{c.customer.name}</span>
                <span className="small quiet">{[c.customer.address, c.customer.contact.name, c.customer.contact.phone].filter(Boolean).join(" · ")}</span>
              </span>
              <span className="small quiet nowrap">{t("intake.sites", { count: c.sites.length })}</span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

const priorities: Priority[] = ["emergency", "soon", "normal"];

function OrderForm({ customer, onChange, onOpened }: { customer: CustomerHit; onChange: () => void; onOpened: (id: string) => void }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [site, setSite] = useState(customer.sites.length === 1 ? customer.sites[0].id : "");
  const [asset, setAsset] = useState("");
  const [priority, setPriority] = useState<Priority>("soon");
  const [skills, setSkills] = useState<string[]>([]);
  const known = useBoard(isoDate(Date.now())).data?.skills ?? [];
  const settings = useSettings().data;
  const [kind, setKind] = useState("");
  const [needs, setNeeds] = useState<Need[]>([]);
  const [sheets, setSheets] = useState<string[]>();
  const [day, setDay] = useState("");
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const promise = promiseOf(day, from, to);
  const noTime = (from !== "" && !isTime(day || isoDate(Date.now()), from)) || (to !== "" && !isTime(day || isoDate(Date.now()), to));
  const past = promise.to && promise.to.getTime() < Date.now();
  const sure = useSure(past ? t("intake.past", { time: timeOrDay(promise.to!) }) : undefined);
  const chosen = customer.sites.find((s) => s.id === site);
  const submit = async (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault();
    if (!sure.ask()) return;
    const form = new FormData(e.currentTarget);
    const id = commands.idOf("order");
    const body = {
      customer: customer.id,
      site,
      asset: asset || undefined,
      problem: String(form.get("problem")).trim(),
      priority,
      minutes: Math.round(Number(form.get("minutes"))),
      promiseFrom: promise.from && moment(promise.from),
      promiseTo: promise.to && moment(promise.to),
      kind: kind || undefined,
      skills,
      needs: needs.map((n) => ({ ...n, quantity: typedNumber(n.quantity) })),
      sheets, // left out: the rules say
      tasks: String(form.get("tasks"))
        .split("\n")
        .map((name) => name.trim())
        .filter(Boolean)
        .map((name, i) => ({ id: `t${i + 1}`, name })),
    };
    try {
      await commands.mutateAsync([{ kind: "work.opened", subject: { type: "workorder", id }, body }]);
      onOpened(id);
    } catch {
      // said below
    }
  };
  return (
    <form className="order-form" onSubmit={submit}>
      <p className="line">
        <span className="grow">
          <span className="tiny quiet block">{t("intake.customer")}</span>
          <b>{customer.customer.name}</b> <span className="quiet">{customer.customer.contact.phone}</span>
        </span>
        <button type="button" className="link" onClick={onChange}>
          {t("intake.change")}
        </button>
      </p>
      <div className="pair">
        <TextField
          select
          label={t("intake.site")}
          value={site}
          required
          onChange={(e) => {
            setSite(e.target.value);
            setAsset("");
          }}
        >
          {customer.sites.map((s) => (
            <MenuItem key={s.id} value={s.id}>
              {s.site.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField select label={t("intake.asset")} value={asset} onChange={(e) => setAsset(e.target.value)} disabled={!chosen}>
          <MenuItem value="">{t("intake.noAsset")}</MenuItem>
          {chosen?.assets.map((a) => (
            <MenuItem key={a.id} value={a.id}>
              {a.name}
            </MenuItem>
          ))}
        </TextField>
      </div>
      <TextField name="problem" label={t("intake.problem")} multiline minRows={3} required slotProps={{ htmlInput: { maxLength: 5000 } }} />
      <TextField name="tasks" label={t("intake.tasks")} helperText={t("intake.tasksHint")} multiline minRows={2} />
      {settings?.orders.works && settings.orders.works.length > 0 && (
        <fieldset className="priorities">
          <legend className="small quiet">{t("intake.kind")}</legend>
          {settings.orders.works.map((w) => (
            <button type="button" key={w.id} aria-pressed={kind === w.id} onClick={() => setKind(kind === w.id ? "" : w.id)}>
              {w.text}
            </button>
          ))}
        </fieldset>
      )}
      <NeedsField needs={needs} onChange={setNeeds} />
      <SheetChoice chosen={sheets} onChange={setSheets} />
      <fieldset className="priorities">
        <legend className="small quiet">{t("intake.skills")}</legend>
        {known.map((k) => (
          <button
            type="button"
            key={k.id}
            aria-pressed={skills.includes(k.id)}
            onClick={() => setSkills(skills.includes(k.id) ? skills.filter((s) => s !== k.id) : [...skills, k.id])}
          >
            {k.text}
          </button>
        ))}
      </fieldset>
      <fieldset className="priorities">
        <legend className="small quiet">{t("intake.priority")}</legend>
        {priorities.map((p) => (
          <button type="button" key={p} aria-pressed={priority === p} onClick={() => setPriority(p)}>
            {t(`priority.${p}`)}
          </button>
        ))}
      </fieldset>
      <fieldset className="promise">
        <legend className="small quiet">{t("intake.promise")}</legend>
        <DateField label={t("plan.date")} value={day} onChange={setDay} />
        <TimeField label={t("intake.from")} value={from} onChange={setFrom} />
        <TimeField label={t("intake.to")} value={to} onChange={setTo} />
        <TextField name="minutes" type="number" label={t("intake.minutes")} defaultValue="60" required slotProps={{ htmlInput: { min: 1, max: 20160 } }} />
      </fieldset>
      {noTime && (
        <p role="alert">
          <Tag kind="bad">{t("time.noSuchHour")}</Tag>
        </p>
      )}
      <Sure warning={sure.warning} />
      <Failure error={commands.error} />
      <Button type="submit" variant="contained" disabled={!site || noTime || !needsFine(needs) || commands.isPending}>
        {t("intake.open")}
      </Button>
    </form>
  );
}

/** Check sheets: as the rules have it, unless somebody chooses. */
function SheetChoice({ chosen, onChange }: { chosen?: string[]; onChange: (list?: string[]) => void }) {
  const { t } = useTranslation();
  const published = (useSheets().data ?? []).filter((s) => s.version > 0);
  const turn = (ref: string) => onChange((chosen ?? []).includes(ref) ? (chosen ?? []).filter((c) => c !== ref) : [...(chosen ?? []), ref]);
  return (
    <fieldset className="priorities">
      <legend className="small quiet">{t("sheets.title")}</legend>
      <button type="button" aria-pressed={!chosen} onClick={() => onChange(undefined)}>
        {t("intake.byRule")}
      </button>
      {published.map((s) => (
        <button type="button" key={s.id} aria-pressed={!!chosen?.includes(`${s.id}@${s.version}`)} onClick={() => turn(`${s.id}@${s.version}`)}>
          {s.title}
        </button>
      ))}
    </fieldset>
  );
}
