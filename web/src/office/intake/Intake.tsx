import { Button } from "@mui/material";
import { type SyntheticEvent, useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { ApiError } from "../../session/session";
import { Confirm } from "../../ui/Confirm";
import { isoDate, timeOrDay } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { Sure, useSure } from "../../ui/Sure";
import { PlanDrawer } from "../PlanDrawer";
import { Failure, useBoard, useCaller, useCommands } from "../queries";
import { needsFine } from "../stores/NeedsField";
import { CallerFields } from "./CallerFields";
import { CallerSearch } from "./CallerSearch";
import { begun, blank, type Call, entriesOf, missing, nextTrouble, promised, said } from "./call";
import { ReadyMade } from "./ReadyMade";
import { WorkFields } from "./WorkFields";

/** Answering the telephone: who calls, from where, what is wrong, by when. What is typed stays until the order is open, or it is thrown away. */
export function Intake() {
  const { t } = useTranslation();
  const [params, setParams] = useSearchParams();
  const draft = useDraft<Call>("intake", blank);
  const call = draft.value;
  const commands = useCommands();
  const caller = useCaller(call.caller.includes("/") ? call.caller : "");
  const [opened, setOpened] = useState<string>();
  const [told, setTold] = useState("");
  // Whoever comes from a gap on the board has said who is to go, and when.
  const person = params.get("person");
  const start = Date.parse(params.get("at") ?? "");
  const gap = person && start ? { person, start } : undefined;
  const [pressed, setPressed] = useState(""); // the order that was sent from this page before
  const found = useBoard(isoDate(Date.now())).data?.unplaced.find((o) => o.id === opened);
  // Somebody else may plan it meanwhile: what is half filled in here stays.
  const [kept, setKept] = useState(found);
  if (found && found !== kept) setKept(found);
  const order = opened ? (found ?? (kept?.id === opened ? kept : undefined)) : undefined;

  // Whoever comes from a record's page, or from the bar, has said who it is. What is half typed of another call is asked about first.
  const { change } = draft;
  const [asking, setAsking] = useState("");
  const half = said(call);
  useEffect(() => {
    for (const type of ["customer", "site", "asset"]) {
      const id = params.get(type);
      if (!id) continue;
      const who = `${type}/${id}`;
      if (half && who !== call.caller) setAsking(who);
      else if (!half) change(begun({ caller: who }));
      setParams({}, { replace: true });
    }
  }, [params, setParams, change, half, call.caller]);
  // A caller with one site means that one; who asked by a site or machine means it.
  const known = caller.data;
  useEffect(() => {
    if (!known || call.site !== "") return;
    const site = known.site ?? (known.sites.length === 1 ? known.sites[0].id : "");
    if (site) change({ site, asset: known.asset ?? "" });
  }, [known, call.site, change]);

  const promise = promised(call, isoDate(Date.now()));
  const past = promise.to && promise.to.getTime() < Date.now();
  const sure = useSure(past ? t("intake.past", { time: timeOrDay(promise.to!) }) : undefined);
  const lacks = missing(call);
  const fine = !lacks && !promise.noTime && needsFine(call.needs) && (!call.caller.includes("/") || known !== undefined);
  const open = async (next: boolean) => {
    if (!fine || commands.isPending || !sure.ask()) return;
    const again = pressed === call.ids.order;
    setPressed(call.ids.order);
    try {
      await commands.mutateAsync(entriesOf(call, known));
    } catch (e) {
      const code = e instanceof ApiError ? e.problem.code : "";
      if (code === "command.already") change({ ids: begun({}).ids }); // what was pressed first is open: this is another
      if (code !== "record.exists" || again) return; // said below; else it had arrived before the page was loaded anew
    }
    draft.clear();
    if (next) change(nextTrouble(call));
    setTold(next ? t("intake.openedNext") : "");
    if (!next) setOpened(call.ids.order);
  };
  const submit = (e: SyntheticEvent) => {
    e.preventDefault();
    void open(false);
  };
  return (
    <main className="intake">
      <h1>{t("intake.title")}</h1>
      <p role="status">{told}</p>
      {call.caller === "" ? (
        <CallerSearch
          onPick={(c) => {
            change(begun(c));
            setTold("");
          }}
        />
      ) : (
        <form
          className="order-form"
          onSubmit={submit}
          onKeyDown={(e) => {
            if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) submit(e);
          }}
        >
          <ReadyMade call={call} change={change} />
          <CallerFields call={call} caller={caller} change={change} />
          <WorkFields call={call} change={change} update={draft.update} />
          {promise.noTime && (
            <p role="alert">
              <Tag kind="bad">{t("time.noSuchHour")}</Tag>
            </p>
          )}
          <Sure warning={sure.warning} />
          <Failure error={commands.error} />
          <div className="intake-foot">
            <Button type="submit" variant="contained" aria-keyshortcuts="Control+Enter" disabled={!fine || commands.isPending}>
              {t("intake.open")}
            </Button>
            <Button disabled={!fine || commands.isPending} onClick={() => void open(true)}>
              {t("intake.openNext")}
            </Button>
            <ThrowAway draft={draft} />
            <span className="small quiet">{t(lacks ? `intake.lacks.${lacks}` : "intake.keys")}</span>
          </div>
        </form>
      )}
      {asking && (
        <Confirm
          title={t("intake.half")}
          text={call.problem || call.name}
          act={t("intake.halfDrop")}
          stay={t("intake.halfKeep")}
          rather="stay"
          onAct={() => {
            change({ ...blank, ...begun({ caller: asking }) });
            setAsking("");
          }}
          onClose={() => setAsking("")}
        />
      )}
      {order && (
        <PlanDrawer
          order={order}
          date={isoDate(Date.now())}
          at={gap}
          onDone={(s) => setTold(s)}
          onClose={() => {
            setTold((s) => s || t("intake.opened", { number: order.number }));
            setOpened(undefined);
          }}
        />
      )}
    </main>
  );
}
