import { Button, MenuItem, TextField } from "@mui/material";
import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import { May } from "../../session/May";
import type { EntryDraft, Shelf, ShelfLine } from "../../types";
import { decimal, isPositive, isQuantity, typedNumber } from "../../ui/decimal";
import { quantity, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LayerDrawer } from "../../ui/Layers";
import { Sure, useSure } from "../../ui/Sure";
import { Failure, useCommands } from "../queries";
import { Movements } from "./Movements";
import { useCatalogue, usePlaces } from "./queries";

/** One part at a place: counted, received, handed over, thrown away; its levels, what is kept, what moved. */
export function PartAtPlace({ shelf, part, onClose }: { shelf: Shelf; part: string; onClose: () => void }) {
  const { t } = useTranslation();
  const of = useCatalogue()?.item(`part ${part}`)?.part;
  const line: ShelfLine = shelf.lines.find((l) => l.part === part) ?? {
    part,
    number: of?.number ?? part,
    name: of?.name ?? part,
    unit: of?.unit ?? "",
    balance: "0",
    held: [],
    incoming: "0",
    level: { min: "0", max: "0" },
    cost: of?.cost ?? "0",
  };
  const commands = useCommands();
  const run = (...orders: EntryDraft[]) => commands.mutate(orders);
  const stock = { type: "stock", id: shelf.place.id };
  return (
    <LayerDrawer anchor="right" onClose={onClose}>
      <div className="stores-drawer">
        <h2>{line.name}</h2>
        <p className="small quiet">
          {line.number} · {t("van.book", { quantity: quantity(line.balance, line.unit) })} · {shelf.place.name}
          {line.counted && ` · ${t("places.counted", { time: timeOrDay(line.counted) })}`}
        </p>
        {decimal(line.balance).lt(0) && <Tag kind="bad">{t("van.below")}</Tag>}
        <May right="stock.counted">
          <Act
            label={t("van.count")}
            act={t("count.one")}
            why={t("van.reason")}
            check={isQuantity}
            onAct={(q, reason) =>
              run({ kind: "stock.counted", subject: stock, body: { part, quantity: q, expected: line.balance, reason: reason || undefined } })
            }
          />
          <Act
            label={t("places.receive")}
            act={t("places.receiveDo")}
            why={t("places.eachCost")}
            checkWhy={(cost) => cost.trim() === "" || isQuantity(cost)}
            check={isPositive}
            onAct={(q, cost) => run({ kind: "stock.received", subject: stock, body: { part, quantity: q, cost: cost ? typedNumber(cost) : undefined } })}
          />
          <Send shelf={shelf} part={part} commands={commands} />
          <Act
            label={t("van.gone")}
            act={t("van.goneDo")}
            why={t("van.reason")}
            checkWhy={(reason) => reason.trim() !== ""}
            check={isPositive}
            odd={(q) => (decimal(q).gt(line.balance) ? t("van.goneOdd", { gone: q, balance: line.balance }) : undefined)}
            onAct={(q, reason) => run({ kind: "stock.scrapped", subject: stock, body: { part, quantity: q, reason } })}
          />
        </May>
        <May right="record.amended levels">
          <Levels shelf={shelf} line={line} onSet={run} />
        </May>
        {line.held.map((h) => (
          <p className="line" key={h.order}>
            <span className="grow">
              {t("places.heldFor", { quantity: h.quantity, number: h.number })} {h.done && <Tag kind="warn">{t("places.heldDone")}</Tag>}
            </span>
            <May right="stock.reserved">
              <Button size="small" onClick={() => run({ kind: "stock.reserved", subject: stock, body: { order: h.order, part, quantity: `-${h.quantity}` } })}>
                {t("places.letGo")}
              </Button>
            </May>
          </p>
        ))}
        <Failure error={commands.error} />
        <Movements place={shelf.place.id} part={part} />
        <button type="button" className="link" onClick={onClose}>
          {t("places.close")}
        </button>
      </div>
    </LayerDrawer>
  );
}

interface ActProps {
  label: string;
  act: string;
  why: string;
  /** whether the word about it will do; any does when this is not given */
  checkWhy?: (s: string) => boolean;
  check: (s: string) => boolean;
  /** what is odd about a quantity, which is asked about once */
  odd?: (quantity: string) => string | undefined;
  onAct: (quantity: string, why: string) => void;
}

/** A quantity, a word about it, a button. */
function Act({ label, act, why, checkWhy = () => true, check, odd, onAct }: ActProps) {
  const [q, setQ] = useState("");
  const [text, setText] = useState("");
  const sure = useSure(check(q) ? odd?.(typedNumber(q)) : undefined);
  return (
    <Form
      fine={check(q) && checkWhy(text)}
      act={act}
      onSubmit={() => {
        if (!sure.ask()) return;
        onAct(typedNumber(q), text.trim());
        setQ("");
        setText("");
      }}
    >
      <TextField label={label} value={q} onChange={(e) => setQ(e.target.value)} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
      <TextField label={why} value={text} onChange={(e) => setText(e.target.value)} slotProps={{ htmlInput: { maxLength: 500 } }} />
      <Sure warning={sure.warning} />
    </Form>
  );
}

function Form({ fine, act, onSubmit, children }: { fine: boolean; act: string; onSubmit: () => void; children: ReactNode }) {
  return (
    <form
      className="stores-act"
      onSubmit={(e) => {
        e.preventDefault();
        onSubmit();
      }}
    >
      {children}
      <Button type="submit" disabled={!fine}>
        {act}
      </Button>
    </form>
  );
}

function Send({ shelf, part, commands }: { shelf: Shelf; part: string; commands: ReturnType<typeof useCommands> }) {
  const { t } = useTranslation();
  const others = (usePlaces().data ?? []).filter((p) => p.id !== shelf.place.id);
  const [q, setQ] = useState("");
  const [chosen, setTo] = useState("");
  const to = chosen || others[0]?.id || "";
  return (
    <Form
      fine={isPositive(q) && to !== ""}
      act={t("places.sendDo")}
      onSubmit={() => {
        const subject = { type: "handover", id: commands.idOf("handover") };
        commands.mutate([{ kind: "handover.sent", subject, body: { from: shelf.place.id, to, lines: [{ part, quantity: typedNumber(q) }] } }], {
          onSuccess: () => setQ(""),
        });
      }}
    >
      <TextField label={t("places.send")} value={q} onChange={(e) => setQ(e.target.value)} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
      <TextField select label={t("van.to")} value={to} onChange={(e) => setTo(e.target.value)}>
        {others.map((p) => (
          <MenuItem key={p.id} value={p.id}>
            {p.name} {p.personName && `· ${p.personName}`}
          </MenuItem>
        ))}
      </TextField>
    </Form>
  );
}

function Levels({ shelf, line, onSet }: { shelf: Shelf; line: ShelfLine; onSet: (o: EntryDraft) => void }) {
  const { t } = useTranslation();
  const [min, setMin] = useState(line.level.min);
  const [max, setMax] = useState(line.level.max);
  const fine = isQuantity(min) && isQuantity(max) && decimal(typedNumber(max)).gte(typedNumber(min)) && (min !== line.level.min || max !== line.level.max);
  const body = { levels: { [line.part]: { min: typedNumber(min), max: typedNumber(max) } } };
  return (
    <Form
      fine={fine}
      act={t("places.levelsDo")}
      onSubmit={() => onSet({ kind: shelf.levelled ? "record.amended" : "record.created", subject: { type: "levels", id: shelf.place.id }, body })}
    >
      <TextField label={t("places.min")} value={min} onChange={(e) => setMin(e.target.value)} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
      <TextField label={t("places.max")} value={max} onChange={(e) => setMax(e.target.value)} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
    </Form>
  );
}
