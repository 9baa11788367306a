import { useTranslation } from "react-i18next";
import { ChoiceInput, DateInput, NumberInput, SaveButton, SeveralInput, TextInput, TimeInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import type { Contact, OrderPage, Priority } from "../../types";
import { isoDate, moment, time } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import { pathText } from "../../ui/troubles";
import { useQuestion } from "../commands";
import { crewOf } from "../intake/call";
import { promiseOf } from "../promise";
import { Failure, useCommands, useSettings } from "../queries";
import { useThings } from "../things";
import css from "./Order.module.css";
import { People } from "./People";

const blankOf = ({ order: o }: OrderPage) => ({
  problem: o.problem,
  instruction: o.instruction ?? "",
  billText: o.billText ?? "",
  theirs: o.theirs ?? "",
  kind: o.kind ?? "",
  priority: o.priority as string,
  urgency: (o.urgency ?? "") as string,
  responsible: o.responsible ?? "",
  trouble: o.trouble ?? "",
  undertaking: o.undertaking ?? "",
  minutes: String(o.minutes),
  crew: o.crew ? String(o.crew) : "",
  things: o.things ?? [],
  day: o.promiseTo ? isoDate(o.promiseTo) : "",
  from: o.promiseFrom ? time(o.promiseFrom) : "",
  to: o.promiseTo ? time(o.promiseTo) : "",
  doneDay: o.doneBy ? isoDate(o.doneBy) : "",
  doneTo: o.doneBy ? time(o.doneBy) : "",
  people: (o.people ?? []).map((p) => ({ name: p.name, role: p.role ?? "", phone: p.phone ?? "", email: p.email ?? "" })),
});

type Values = ReturnType<typeof blankOf>;

/** What of an order is other than it was: a merge patch, and the values that it replaces. */
function changed(page: OrderPage, values: Values) {
  const blank = blankOf(page);
  const order = page.order as unknown as Record<string, unknown>;
  const patch: Record<string, unknown> = {};
  const set = (name: string, to: unknown) => {
    patch[name] = to === "" || to === undefined ? null : to;
  };
  for (const name of ["problem", "instruction", "billText", "theirs", "kind", "priority", "urgency", "responsible", "trouble", "undertaking"] as const)
    if (values[name].trim() !== blank[name]) set(name, values[name].trim());
  if (values.minutes !== blank.minutes) set("minutes", Math.round(Number(values.minutes)));
  if (values.crew !== blank.crew) set("crew", crewOf(values.crew));
  if (values.things.toSorted().join() !== blank.things.toSorted().join()) set("things", values.things);
  if (values.day !== blank.day || values.from !== blank.from || values.to !== blank.to) {
    const promise = promiseOf(values.day, values.from, values.to);
    set("promiseFrom", promise.from && moment(promise.from));
    set("promiseTo", promise.to && moment(promise.to));
  }
  if (values.doneDay !== blank.doneDay || values.doneTo !== blank.doneTo) {
    const { to } = promiseOf(values.doneDay, "", values.doneTo);
    set("doneBy", to && moment(to));
  }
  if (JSON.stringify(values.people) !== JSON.stringify(blank.people))
    set(
      "people",
      values.people.filter((p: Contact) => p.name.trim() || p.phone?.trim()),
    );
  const base = Object.fromEntries(Object.keys(patch).map((name) => [name, order[name] ?? null]));
  return Object.keys(patch).length > 0 ? { patch, base } : undefined;
}

const priorities: Priority[] = ["emergency", "soon", "normal"];

/** Changes what is said of an order. */
export function EditOrder({ page, onClose }: { page: OrderPage; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const form = useKeptForm(`order ${page.line.id}`, blankOf(page));
  const settings = useSettings().data;
  const kinds = settings?.orders.works ?? [];
  const tree = settings?.troubles.tree ?? [];
  const undertakings = (useQuestion("/api/office/undertakings", {}).data ?? []).filter((u) => !u.done || u.id === page.order.undertaking);
  const things = useThings();
  const none = [["", t("orderPage.none")]] as const;
  const save = (values: Values, saved: () => void) => {
    const done = () => {
      saved();
      onClose();
    };
    const change = changed(page, values);
    if (!change) return done();
    commands.mutate([{ kind: "record.amended", subject: { type: "workorder", id: page.line.id }, body: change.patch, base: change.base }], { onSuccess: done });
  };
  return (
    <SideDrawer title={t("orderPage.edit")} about={t("visit.order", { number: page.order.number })} draft={form} onClose={onClose}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="problem" label={t("intake.problem")} lines={2} max={5000} required />
        <TextInput name="instruction" label={t("orderPage.instruction")} lines={2} max={5000} />
        <TextInput name="billText" label={t("orderPage.billText")} lines={1} max={5000} />
        <TextInput name="theirs" label={t("orderPage.theirsLabel")} max={80} />
        <div className={css.pair}>
          <ChoiceInput name="priority" label={t("intake.priority")} choices={priorities.map((p) => [p, t(`priority.${p}`)] as const)} />
          <ChoiceInput name="urgency" label={t("orderPage.urgencyLabel")} choices={[...none, ...priorities.map((p) => [p, t(`priority.${p}`)] as const)]} />
        </div>
        <DateInput name="day" label={t("orderPage.promiseDay")} />
        <div className={css.pair}>
          <TimeInput name="from" label={t("intake.from")} />
          <TimeInput name="to" label={t("intake.to")} />
        </div>
        <div className={css.pair}>
          <DateInput name="doneDay" label={t("orderPage.doneDay")} />
          <TimeInput name="doneTo" label={t("intake.to")} />
        </div>
        <div className={css.pair}>
          <NumberInput name="minutes" label={t("intake.minutes")} kind="positive" required />
          {kinds.length > 0 && <ChoiceInput name="kind" label={t("intake.kind")} choices={[...none, ...kinds.map((k) => [k.id, k.text] as const)]} />}
        </div>
        <div className={css.pair}>
          <NumberInput name="crew" label={t("intake.crew")} kind="positive" />
          {things.length > 0 && <SeveralInput name="things" label={t("board.things")} choices={things.map((x) => [x.id, x.text] as const)} />}
        </div>
        {undertakings.length > 0 && (
          <ChoiceInput name="undertaking" label={t("undertaking.one")} choices={[...none, ...undertakings.map((u) => [u.id, u.name] as const)]} />
        )}
        {tree.length > 0 && (
          <ChoiceInput
            name="trouble"
            label={t("trouble.trouble")}
            choices={[...none, ...tree.filter((n) => n.kind === "trouble" && !n.retired).map((n) => [n.id, pathText(tree, n.id)] as const)]}
          />
        )}
        <ChoiceInput name="responsible" label={t("orderPage.responsibleLabel")} choices={[...none, ...page.office.map((p) => [p.id, p.name] as const)]} />
        <People />
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending}>{t("records.save")}</SaveButton>
      </Form>
    </SideDrawer>
  );
}
