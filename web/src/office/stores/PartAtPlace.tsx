import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { ChoiceInput, NumberInput, SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { May } from "../../session/May";
import type { EntryDraft, Shelf, ShelfLine } from "../../types";
import { decimal, isQuantity, typedNumber } from "../../ui/decimal";
import { quantity, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { SideDrawer } from "../../ui/SideDrawer";
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
  const run: Run = (order, saved) => commands.mutate([order], { onSuccess: saved });
  const stock = { type: "stock", id: shelf.place.id };
  const draft = (act: string) => `${act} ${shelf.place.id} ${part}`;
  return (
    <SideDrawer
      title={line.name}
      about={
        <>
          {line.number} · {t("van.book", { quantity: quantity(line.balance, line.unit) })} · {shelf.place.name}
          {line.counted && ` · ${t("places.counted", { time: timeOrDay(line.counted) })}`}
        </>
      }
      onClose={onClose}
    >
      {decimal(line.balance).lt(0) && <Tag kind="bad">{t("van.below")}</Tag>}
      <May right="stock.counted">
        <Act
          busy={commands.isPending}
          name={draft("count")}
          label={t("van.count")}
          act={t("count.one")}
          word={t("van.reason")}
          kind="quantity"
          onAct={(typed, saved) =>
            run(
              { kind: "stock.counted", subject: stock, body: { part, quantity: typed.quantity, expected: line.balance, reason: typed.word || undefined } },
              saved,
            )
          }
        />
        <Act
          busy={commands.isPending}
          name={draft("receive")}
          label={t("places.receive")}
          act={t("places.receiveDo")}
          word={t("places.eachCost")}
          amount
          onAct={(typed, saved) =>
            run({ kind: "stock.received", subject: stock, body: { part, quantity: typed.quantity, cost: typed.word || undefined } }, saved)
          }
        />
        <Send
          busy={commands.isPending}
          shelf={shelf}
          part={part}
          onSend={(to, quantity, saved) => {
            const subject = { type: "handover", id: commands.idOf("handover") };
            run({ kind: "handover.sent", subject, body: { from: shelf.place.id, to, lines: [{ part, quantity }] } }, saved);
          }}
        />
        <Act
          busy={commands.isPending}
          name={draft("scrap")}
          label={t("van.gone")}
          act={t("van.goneDo")}
          word={t("van.reason")}
          wordNeeded
          odd={(q) => (decimal(q).gt(line.balance) ? t("van.goneOdd", { gone: q, balance: line.balance }) : undefined)}
          onAct={(typed, saved) => run({ kind: "stock.scrapped", subject: stock, body: { part, quantity: typed.quantity, reason: typed.word } }, saved)}
        />
      </May>
      <May right="record.amended levels">
        <Levels shelf={shelf} line={line} busy={commands.isPending} onSet={run} />
      </May>
      {line.held.map((h) => (
        <p className="line" key={h.order}>
          <span className="grow">
            {t("places.heldFor", { quantity: h.quantity, number: h.number })} {h.done && <Tag kind="warn">{t("places.heldDone")}</Tag>}
          </span>
          <May right="stock.reserved">
            <Button
              size="small"
              disabled={commands.isPending}
              onClick={() => commands.mutate([{ kind: "stock.reserved", subject: stock, body: { order: h.order, part, quantity: `-${h.quantity}` } }])}
            >
              {t("places.letGo")}
            </Button>
          </May>
        </p>
      ))}
      <Failure error={commands.error} />
      <Movements place={shelf.place.id} part={part} />
    </SideDrawer>
  );
}

interface Typed {
  quantity: string;
  word: string;
}

interface ActProps {
  /** what a draft of it is called */
  name: string;
  label: string;
  act: string;
  /** the label of the word about it */
  word: string;
  wordNeeded?: boolean;
  /** whether the word is an amount */
  amount?: boolean;
  kind?: "quantity" | "positive";
  /** what is odd about a quantity, which is asked about once */
  odd?: (quantity: string) => string | undefined;
  busy: boolean;
  onAct: (typed: Typed, saved: () => void) => void;
}

/** A quantity, a word about it, a button. What is typed stays until it is known to be recorded. */
function Act({ name, label, act, word, wordNeeded, amount, kind = "positive", odd, busy, onAct }: ActProps) {
  const form = useKeptForm<Typed>(name, { quantity: "", word: "" });
  const typed = form.fields.watch("quantity");
  const sure = useSure(isQuantity(typed) ? odd?.(typedNumber(typed)) : undefined);
  return (
    <Form
      form={form}
      className="stores-act"
      onSave={({ quantity, word }, saved) =>
        sure.ask() && onAct({ quantity: typedNumber(quantity), word: amount && word ? typedNumber(word) : word.trim() }, saved)
      }
    >
      <NumberInput name="quantity" label={label} kind={kind} required />
      {amount ? <NumberInput name="word" label={word} kind="quantity" /> : <TextInput name="word" label={word} required={wordNeeded} />}
      <SaveButton main={false} busy={busy}>
        {act}
      </SaveButton>
      <Sure warning={sure.warning} />
    </Form>
  );
}

type Run = (order: EntryDraft, saved: () => void) => void;

function Send({ shelf, part, busy, onSend }: { shelf: Shelf; part: string; busy: boolean; onSend: (to: string, quantity: string, saved: () => void) => void }) {
  const { t } = useTranslation();
  const others = (usePlaces().data ?? []).filter((p) => p.id !== shelf.place.id);
  const form = useKeptForm(`send ${shelf.place.id} ${part}`, { quantity: "", to: others[0]?.id ?? "" });
  return (
    <Form form={form} className="stores-act" onSave={({ quantity, to }, saved) => onSend(to, typedNumber(quantity), saved)}>
      <NumberInput name="quantity" label={t("places.send")} kind="positive" required />
      <ChoiceInput name="to" label={t("van.to")} choices={others.map((p) => [p.id, p.personName ? `${p.name} · ${p.personName}` : p.name])} required />
      <SaveButton main={false} busy={busy}>
        {t("places.sendDo")}
      </SaveButton>
    </Form>
  );
}

function Levels({ shelf, line, busy, onSet }: { shelf: Shelf; line: ShelfLine; busy: boolean; onSet: Run }) {
  const { t } = useTranslation();
  const form = useKeptForm(`levels ${shelf.place.id} ${line.part}`, { min: line.level.min, max: line.level.max });
  const min = form.fields.watch("min");
  const enough = (max: string) => (isQuantity(min) && decimal(typedNumber(max)).lt(typedNumber(min)) ? t("places.maxBelow") : undefined);
  const set = ({ min, max }: { min: string; max: string }, saved: () => void) =>
    onSet(
      {
        kind: shelf.levelled ? "record.amended" : "record.created",
        subject: { type: "levels", id: shelf.place.id },
        body: { levels: { [line.part]: { min: typedNumber(min), max: typedNumber(max) } } },
      },
      saved,
    );
  return (
    <Form form={form} className="stores-act" onSave={set}>
      <NumberInput name="min" label={t("places.min")} kind="quantity" required />
      <NumberInput name="max" label={t("places.max")} kind="quantity" check={enough} required />
      <SaveButton main={false} busy={busy}>
        {t("places.levelsDo")}
      </SaveButton>
    </Form>
  );
}
