import { Button, MenuItem, TextField } from "@mui/material";
import type { FormEvent } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import type { Stand, SubstanceAct, VisitView } from "../../types";
import { isQuantity, typedNumber } from "../../ui/decimal";
import { timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useDevice, useRecord } from "../device";
import { StrikeOut } from "./StrikeOut";
import { VisitSection } from "./VisitSection";

const acts: SubstanceAct[] = ["put_in", "taken_out", "first_fill", "delivered", "removed", "counted"];
const onMachine = (a: SubstanceAct) => a === "put_in" || a === "taken_out" || a === "first_fill";

/** The log of regulated substances: what is in stock here, what machines lose, and what was put in or taken out today. */
export function Substances({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  if (view.substances.length === 0) return null;
  return (
    <VisitSection id="substances" title={t("substance.title")}>
      {view.substances.map((s) => (
        <Standing key={s.id} stand={s} view={view} />
      ))}
      {view.moves.map((m) => (
        <div className="line" key={m.entry}>
          <span className={`grow${m.struck ? " struck" : ""}`}>
            {t(`act.${m.act}`)} {m.asset && `· ${view.names[m.asset] ?? m.asset}`}
            <span className="tiny quiet block">
              {view.substances.find((s) => s.id === m.substance)?.name} · {timeOrDay(m.at)}
              {m.away && ` · ${t("substance.away")}`}
            </span>
          </span>
          <b className={`nowrap${m.struck ? " struck" : ""}`}>
            {m.amount} {m.unit}
          </b>
          <StrikeOut view={view} line={m} kind="substance.moved" />
        </div>
      ))}
      <Entry view={view} />
    </VisitSection>
  );
}

function Standing({ stand: s, view }: { stand: Stand; view: VisitView }) {
  const { t } = useTranslation();
  return (
    <div className="line">
      <span className="grow">
        {s.name}
        {s.machines.map((m) => (
          <span className="small quiet block" key={m.asset}>
            {t("substance.year", { machine: view.names[m.asset] ?? m.asset, amount: m.year, unit: s.unit })}{" "}
            {m.loss !== undefined && s.allowed !== undefined && `(${m.loss} %)`}{" "}
            {m.over && <Tag kind="warn">{t("substance.over", { allowed: s.allowed })}</Tag>}
          </span>
        ))}
      </span>
      <span className="end nowrap">
        <b>{s.onSite}</b> {s.unit}
        <span className="tiny quiet block">{t("substance.onSite")}</span>
      </span>
    </div>
  );
}

/** What is typed of a movement of a regulated substance. */
interface Moving {
  substance: string;
  act: SubstanceAct;
  asset?: string;
  amount: string;
  away: boolean;
}

function Entry({ view }: { view: VisitView }) {
  const { t } = useTranslation();
  const { tell } = useDevice();
  const record = useRecord();
  const draft = useDraft<Moving>(`substance ${view.id}`, { substance: view.substances[0].id, act: "put_in", amount: "", away: false });
  const { substance, act, amount, away } = draft.value;
  const chosen = view.substances.find((s) => s.id === substance) ?? view.substances[0];
  const machines = [...new Set([view.order.asset, ...chosen.machines.map((m) => m.asset)])].filter((a): a is string => !!a && !!view.names[a]);
  const asset = draft.value.asset ?? machines[0] ?? "";
  const save = async (e: FormEvent) => {
    e.preventDefault();
    const value = typedNumber(amount);
    if (onMachine(act) && !asset) return tell(t("substance.noMachine"));
    const body = {
      site: view.order.site,
      substance: chosen.id,
      act,
      asset: onMachine(act) ? asset : undefined,
      amount: value,
      unit: chosen.unit,
      away: (onMachine(act) && away) || undefined,
    };
    if (await record("substance.moved", view.id, body)) draft.clear();
  };
  const ok = isQuantity(amount);
  return (
    <form className="substance-entry" onSubmit={save}>
      <div className="items" role="group" aria-label={t("substance.title")}>
        {acts.map((a) => (
          <button type="button" key={a} aria-pressed={act === a} onClick={() => draft.change({ act: a })}>
            {t(`act.${a}`)}
          </button>
        ))}
      </div>
      {view.substances.length > 1 && (
        <TextField select label={t("substance.which")} value={chosen.id} onChange={(e) => draft.change({ substance: e.target.value })}>
          {view.substances.map((s) => (
            <MenuItem key={s.id} value={s.id}>
              {s.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {onMachine(act) && machines.length > 1 && (
        <TextField select label={t("intake.asset")} value={asset} onChange={(e) => draft.change({ asset: e.target.value })}>
          {machines.map((m) => (
            <MenuItem key={m} value={m}>
              {view.names[m]}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextField
        label={t("substance.amount", { unit: chosen.unit })}
        value={amount}
        onChange={(e) => draft.change({ amount: e.target.value })}
        slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off", maxLength: 12 } }}
      />
      {onMachine(act) && (
        <button type="button" className="chip" aria-pressed={away} onClick={() => draft.change({ away: !away })}>
          {t(act === "taken_out" ? "substance.takeAway" : "substance.fromVan")}
        </button>
      )}
      <Button type="submit" variant={ok ? "contained" : "outlined"} disabled={!ok}>
        {t("substance.save")}
      </Button>
    </form>
  );
}
