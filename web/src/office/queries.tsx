/** Questions to the server and commands, and how a screen shows that one is under way or failed. */

import { Button } from "@mui/material";
import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { ApiError } from "../session/session";
import type { Logged } from "../types";
import { timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { plainValue } from "../ui/plainValue";
import { say, type Word } from "../words/i18n";
import { keepLast, useAct, useQuestion } from "./commands";
import { Sentence } from "./Sentence";

export const useBoard = (date: string, draft = false) => useQuestion("/api/office/board", draft ? { date, draft } : { date }, keepLast);
export const useFinished = () => useQuestion("/api/office/finished", {});
export const useUnsigned = () => useQuestion("/api/office/unsigned", {});
export const useTalks = () => useQuestion("/api/office/talks", {});
export const useTalk = (order: string) => useQuestion("/api/office/talks/:order", { order }, { enabled: order !== "" });
export const useHeld = () => useQuestion("/api/office/held", {});
export const useFlags = () => useQuestion("/api/office/flags", {});
export const useDevices = () => useQuestion("/api/office/devices", {});
export const useHours = (from: string, to: string) => useQuestion("/api/office/hours", { from, to }, keepLast);
export const useHoursByOrder = (from: string, to: string) => useQuestion("/api/office/hours/orders", { from, to }, keepLast);
export const useHoursDay = (card: string) => useQuestion("/api/office/hours/days/:card", { card }, keepLast);
export const useBadges = (enabled: boolean) => useQuestion("/api/office/badges", {}, { enabled });
export const useSentMessages = () => useQuestion("/api/office/messages", {});
export const useRecordPage = (type: string, id: string, enabled = true) => useQuestion("/api/office/records/:type/:id", { type, id }, { enabled });
/** Who calls, by "type/id" of a customer, a site or a machine; nobody for "". */
export const useCaller = (who: string) => {
  const [type, id = ""] = who.split("/");
  return useQuestion("/api/office/callers/:type/:id", { type, id }, { enabled: who !== "" });
};
export const useOrderPage = (id: string) => useQuestion("/api/office/orders/:id", { id });
export const useRecordWork = (type: string, id: string) => useQuestion("/api/office/work/:type/:id", { type, id });
export const useVisitPage = (id: string) => useQuestion("/api/office/visits/:id", { id });
export const useSettings = () => useQuestion("/api/office/settings", {});
/** The currency of all amounts; "" until it is known. */
export const useCurrency = () => useSettings().data?.company.currency ?? "";
export const useAttention = (handled: boolean) => useQuestion("/api/office/attention", { handled }, keepLast);
export const useMeasured = (asset: string) => useQuestion("/api/office/measured/:asset", { asset });
export const useSubstances = (site: string) => useQuestion("/api/office/substances/:site", { site });
export const useSheets = () => useQuestion("/api/office/sheets", {});
export const useKinds = () => useQuestion("/api/office/kinds", {});
export const useFind = (q: string) => useQuestion("/api/office/find", { q }, { enabled: q !== "", ...(q ? keepLast : {}) });

export const sentence = (e: unknown): string => say(e instanceof ApiError ? e.problem : { code: "unreadable" });

export { useAct, useCommands, useQuestion } from "./commands";

/** Books the approved days of a range with accounting. */
export const usePosting = () => useAct("/api/office/hours/post", {});

/** Decides on an entry that is held. */
export const useDecide = (id: number) => useAct("/api/office/held/:id", { id: String(id) });

/** Shows an answer once it is there; until then that it is asked for, or what went wrong and a way to try again. */
export function Answer<T>({ query, children }: { query: UseQueryResult<T>; children: (data: T) => ReactNode }) {
  const { t } = useTranslation();
  if (query.data !== undefined) return children(query.data);
  if (query.isError) {
    return (
      <div className="empty" role="alert">
        <p>{sentence(query.error)}</p>
        <Button onClick={() => query.refetch()}>{t("office.retry")}</Button>
      </div>
    );
  }
  return <p className="empty">{t("office.loading")}</p>;
}

export function Failure({ error }: { error: unknown }) {
  return (
    <div role="alert" className="failure">
      {error ? <Tag kind="bad">{sentence(error)}</Tag> : null}
      {error instanceof ApiError && (error.problem.since || error.problem.fields) ? <Meanwhile problem={error.problem} /> : null}
    </div>
  );
}

/** How many of the things others did meanwhile are shown, the latest. */
const lastSeen = 5;

/** What others did while somebody was about to, and both values of what they changed. */
function Meanwhile({ problem: p }: { problem: ApiError["problem"] }) {
  const { t } = useTranslation();
  const earlier = Math.max(0, (p.since?.length ?? 0) - lastSeen);
  return (
    <div className="meanwhile small">
      {earlier > 0 && <span className="block quiet">{t("command.earlier", { count: earlier })}</span>}
      {p.since?.slice(-lastSeen).map((s) => (
        <span className="block" key={s.at + s.kind}>
          {timeOrDay(s.at)} <b>{s.actor}</b> <Sentence kind={s.kind} args={{}} />
        </span>
      ))}
      {p.fields?.map((f) => (
        <span className="both" key={f.field}>
          <span>
            <span className="tiny quiet">
              {t(`field.${f.field}` as Word, { defaultValue: f.field.split(".").at(-1) })} · {t("command.theirs")}
            </span>{" "}
            {plainValue(f.theirs) || t("records.empty")}
          </span>
          <span>
            <span className="tiny quiet">{t("command.yours")}</span> <b>{plainValue(f.yours) || t("records.empty")}</b>
          </span>
        </span>
      ))}
      {p.code === "command.already" && p.entries?.map((e) => <Recorded key={e.id} entry={e} />)}
    </div>
  );
}

/** Something that was recorded at an earlier press, with its number when it has one. */
function Recorded({ entry }: { entry: Logged }) {
  const number = (entry.body as { number?: string } | null)?.number;
  return (
    <span className="block">
      {timeOrDay(entry.at)} <Sentence kind={entry.kind} args={{}} /> {number && <b>{number}</b>}
    </span>
  );
}
