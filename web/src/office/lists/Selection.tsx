import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { ChoiceInput, DateInput, SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { ApiError, useMay } from "../../session/session";
import type { EntryDraft, ListLine, ListPage } from "../../types";
import { isoDate } from "../../ui/format";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands } from "../queries";
import type { Asking } from "./address";
import css from "./Lists.module.css";
import { useAll, useGroups } from "./queries";

type Act = "priority" | "held" | "responsible";

interface Props {
  page: ListPage;
  asked: Asking;
  picked: string[];
  onPick: (picked: string[]) => void;
}

/** What is done with the work orders that are picked, or with all that are asked for. */
export function Selection({ page, asked, picked, onPick }: Props) {
  const { t } = useTranslation();
  const [mayAmend, mayHold] = [useMay("record.amended workorder"), useMay("work.held")];
  const [all, setAll] = useState(false);
  const [act, setAct] = useState<Act>();
  const [said, setSaid] = useState("");
  const count = all ? page.total : picked.length;
  const acts: Act[] = [...(mayAmend ? (["priority", "responsible"] as const) : []), ...(mayHold ? (["held"] as const) : [])];
  return (
    <footer className={css.selection}>
      <b>{t("list.picked", { count })}</b>
      {page.total > picked.length && (
        <Button onClick={() => setAll(!all)} aria-pressed={all}>
          {t(all ? "list.onlyPicked" : "list.allMatching", { count: all ? picked.length : page.total })}
        </Button>
      )}
      <span className={css.grow} />
      {acts.map((a) => (
        <Button key={a} onClick={() => setAct(a)}>
          {t(`list.act.${a}`)}
        </Button>
      ))}
      <Button onClick={() => onPick([])}>{t("list.unpick")}</Button>
      <span role="status" className="small">
        {said}
      </span>
      {act && (
        <Acting
          act={act}
          asked={asked}
          ids={all ? undefined : picked}
          count={count}
          onClose={() => setAct(undefined)}
          onDone={(n) => {
            setAct(undefined);
            setSaid(t("list.done", { count: n }));
          }}
        />
      )}
    </footer>
  );
}

const priorities = ["emergency", "soon", "normal"] as const;
/** Stands for no person: ids have no such sign. */
const nobody = "/";
const week = 7 * 86_400_000;

interface Said {
  value: string;
  reason: string;
  until: string;
}

interface Acted {
  act: Act;
  asked: Asking;
  ids?: string[];
  count: number;
  onClose: () => void;
  onDone: (count: number) => void;
}

/** One thing done to many work orders: all of them, or none when one can't be. */
function Acting({ act, asked, ids, count, onClose, onDone }: Acted) {
  const { t } = useTranslation();
  const commands = useCommands();
  const all = useAll("orders", asked);
  const form = useKeptForm(`many ${act}`, { value: "", reason: "", until: isoDate(Date.now() + week) });
  const people = useGroups("people", { q: "", where: [], sort: "", page: 0, by: "", columns: [] }, "name").data?.groups ?? [];
  const [error, setError] = useState<unknown>();
  const save = async ({ value, reason, until }: Said, saved: () => void) => {
    setError(undefined);
    try {
      const { lines, most } = await all(ids);
      if (count > most) return setError(new ApiError({ type: "about:blank", title: "", status: 409, code: "list.many", args: { max: String(most) } }));
      const drafts = lines.flatMap((l) => draftOf(act, l, { value: value === nobody ? "" : value, reason: reason.trim(), until }));
      if (drafts.length === 0) return onDone(0);
      commands.mutate(drafts, {
        onSuccess: () => {
          saved();
          onDone(drafts.length);
        },
      });
    } catch (e) {
      setError(e);
    }
  };
  return (
    <SideDrawer title={t(`list.act.${act}`)} about={t("list.picked", { count })} draft={form} onClose={onClose}>
      <Form form={form} className={css.form} onSave={save}>
        {act === "priority" && <ChoiceInput name="value" label={t("intake.priority")} required choices={priorities.map((p) => [p, t(`priority.${p}`)])} />}
        {act === "responsible" && (
          <ChoiceInput
            name="value"
            label={t("list.column.responsible")}
            required
            choices={[[nobody, t("list.nobody")], ...people.map((p) => [p.value, p.name] as const)]}
          />
        )}
        {act === "held" && (
          <>
            <DateInput name="until" label={t("orderPage.back")} required check={(d) => (d < isoDate(Date.now()) ? t("code.order.until") : undefined)} />
            <TextInput name="reason" label={t("strike.why")} lines={2} required />
          </>
        )}
        <Failure error={error ?? commands.error} />
        <SaveButton busy={commands.isPending}>{t(`list.act.${act}`)}</SaveButton>
      </Form>
    </SideDrawer>
  );
}

/** The command for one work order; none where it is already so. */
export function draftOf(act: Act, line: ListLine, said: Said): EntryDraft[] {
  const subject = { type: "workorder", id: line.id };
  if (act === "held") return line.cells.held ? [] : [{ kind: "work.held", subject, body: { reason: said.reason, until: said.until } }];
  const was = line.cells[act === "responsible" ? "responsible_id" : act] ?? "";
  return was === said.value ? [] : [{ kind: "record.amended", subject, body: { [act]: said.value || null }, base: { [act]: was || null } }];
}
