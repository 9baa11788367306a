/** Questions to the server and commands, and how a screen shows that one is under way or failed. */
import { Button } from "@mui/material";
import { type UseQueryResult, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { ApiError, ask } from "../session/session";
import type {
  AttentionLine,
  BadgeLine,
  Board,
  ContactLine,
  CustomerHit,
  DateRange,
  DeviceLine,
  FinishedLine,
  Flagged,
  HeldLine,
  HoursPage,
  KindLine,
  Logged,
  OrderHit,
  Policy,
  PostReport,
  RecordPage,
  SentMessage,
  Series,
  SheetLine,
  SubstancePage,
  TalkLine,
  TalkPage,
  UnsignedLine,
  VisitPage,
} from "../types";
import { timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { say, type Word } from "../words/i18n";
import { question } from "./commands";
import { Sentence } from "./Sentence";

export const useBoard = (date: string) =>
  useQuery({ queryKey: ["board", date], queryFn: question<Board>(`/api/office/board?date=${date}`), placeholderData: (old) => old });
export const useFinished = () => useQuery({ queryKey: ["finished"], queryFn: question<FinishedLine[]>("/api/office/finished") });
export const useUnsigned = () => useQuery({ queryKey: ["unsigned"], queryFn: question<UnsignedLine[]>("/api/office/unsigned") });
export const useTalks = () => useQuery({ queryKey: ["talks"], queryFn: question<TalkLine[]>("/api/office/talks") });
export const useTalk = (order: string) =>
  useQuery({ queryKey: ["talk", order], queryFn: question<TalkPage>(`/api/office/talks/${encodeURIComponent(order)}`), enabled: order !== "" });
export const useContacts = (customer: string) =>
  useQuery({ queryKey: ["contacts", customer], queryFn: question<ContactLine[]>(`/api/office/contacts/${encodeURIComponent(customer)}`) });
export const useHeld = () => useQuery({ queryKey: ["held"], queryFn: question<HeldLine[]>("/api/office/held") });
export const useFlags = () => useQuery({ queryKey: ["flags"], queryFn: question<Flagged[]>("/api/office/flags") });
export const useDevices = () => useQuery({ queryKey: ["devices"], queryFn: question<DeviceLine[]>("/api/office/devices") });
export const useHours = (from: string, to: string) =>
  useQuery({ queryKey: ["hours", from, to], queryFn: question<HoursPage>(`/api/office/hours?from=${from}&to=${to}`), placeholderData: (old) => old });
export const useBadges = (enabled: boolean) => useQuery({ queryKey: ["badges"], queryFn: question<BadgeLine[]>("/api/office/badges"), enabled });
export const useSentMessages = () => useQuery({ queryKey: ["messages"], queryFn: question<SentMessage[]>("/api/office/messages") });
export const useRecordPage = (type: string, id: string) =>
  useQuery({ queryKey: ["record", type, id], queryFn: question<RecordPage>(`/api/office/records/${type}/${encodeURIComponent(id)}`) });
export const useVisitPage = (id: string) => useQuery({ queryKey: ["visit", id], queryFn: question<VisitPage>(`/api/office/visits/${encodeURIComponent(id)}`) });
export const usePolicy = () => useQuery({ queryKey: ["policy"], queryFn: question<Policy>("/api/office/policy") });
export const useAttention = (handled: boolean) =>
  useQuery({
    queryKey: ["attention", handled],
    queryFn: question<AttentionLine[]>(`/api/office/attention${handled ? "?handled" : ""}`),
    placeholderData: (old) => old,
  });
export const useMeasured = (asset: string) =>
  useQuery({ queryKey: ["measured", asset], queryFn: question<Series[]>(`/api/office/measured/${encodeURIComponent(asset)}`) });
export const useSubstances = (site: string) =>
  useQuery({ queryKey: ["substances", site], queryFn: question<SubstancePage>(`/api/office/substances/${encodeURIComponent(site)}`) });
export const useSheets = () => useQuery({ queryKey: ["sheets"], queryFn: question<SheetLine[]>("/api/office/sheets") });
export const useKinds = () => useQuery({ queryKey: ["kinds"], queryFn: question<KindLine[]>("/api/office/kinds") });
export const useCustomers = (text: string) =>
  useQuery({
    queryKey: ["customers", text],
    queryFn: question<CustomerHit[]>(`/api/office/customers?q=${encodeURIComponent(text)}`),
    enabled: text.trim().length > 1,
    placeholderData: (old) => (text.trim().length > 1 ? old : undefined),
  });

export const useOrdersNumbered = (number: string) =>
  useQuery({
    queryKey: ["orders", number],
    queryFn: question<OrderHit[]>(`/api/office/orders?q=${encodeURIComponent(number)}`),
    enabled: /^[\w-]{2,20}$/.test(number),
  });

export const sentence = (e: unknown): string => say(e instanceof ApiError ? e.problem : { code: "unreadable" });

export { useCommands } from "./commands";

/** Books the approved days of a range with accounting. */
export function usePosting() {
  const client = useQueryClient();
  return useMutation({ mutationFn: (range: DateRange) => ask<PostReport>("/api/office/hours/post", range), onSettled: () => client.invalidateQueries() });
}

export function useDecide() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, decision }: { id: number; decision: "take" | "set_aside" }) => ask(`/api/office/held/${id}`, { do: decision }),
    onSettled: () => client.invalidateQueries(),
  });
}

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
              {t(`field.${f.field}` as Word, { defaultValue: f.field })} · {t("command.theirs")}
            </span>{" "}
            {plainly(f.theirs) || t("records.empty")}
          </span>
          <span>
            <span className="tiny quiet">{t("command.yours")}</span> <b>{plainly(f.yours) || t("records.empty")}</b>
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

/** A value as people read it. */
function plainly(v: unknown): string {
  if (v === null || v === undefined) return "";
  return typeof v === "object" ? JSON.stringify(v) : String(v);
}
