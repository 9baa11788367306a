/** Questions to the server and commands, and how a screen shows that one is under way or failed. */
import { Button } from "@mui/material";
import { type UseQueryResult, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { ulid } from "ulid";
import { ApiError, ask } from "../session/session";
import type {
  AttentionLine,
  BadgeLine,
  Board,
  Command,
  ContactLine,
  CustomerHit,
  DateRange,
  DeviceLine,
  Done,
  FinishedLine,
  Flagged,
  HeldLine,
  HoursPage,
  KindLine,
  Policy,
  PostReport,
  RecordPage,
  Ref,
  SentMessage,
  Series,
  SheetLine,
  SubstancePage,
  TalkLine,
  TalkPage,
  UnsignedLine,
  VisitPage,
} from "../types";
import { Tag } from "../ui/Glyph";
import { say } from "../words/i18n";

export const useBoard = (date: string) =>
  useQuery({ queryKey: ["board", date], queryFn: () => ask<Board>(`/api/office/board?date=${date}`), placeholderData: (old) => old });
export const useFinished = () => useQuery({ queryKey: ["finished"], queryFn: () => ask<FinishedLine[]>("/api/office/finished") });
export const useUnsigned = () => useQuery({ queryKey: ["unsigned"], queryFn: () => ask<UnsignedLine[]>("/api/office/unsigned") });
export const useTalks = () => useQuery({ queryKey: ["talks"], queryFn: () => ask<TalkLine[]>("/api/office/talks") });
export const useTalk = (order: string) =>
  useQuery({ queryKey: ["talk", order], queryFn: () => ask<TalkPage>(`/api/office/talks/${encodeURIComponent(order)}`), enabled: order !== "" });
export const useContacts = (customer: string) =>
  useQuery({ queryKey: ["contacts", customer], queryFn: () => ask<ContactLine[]>(`/api/office/contacts/${encodeURIComponent(customer)}`) });
export const useHeld = () => useQuery({ queryKey: ["held"], queryFn: () => ask<HeldLine[]>("/api/office/held") });
export const useFlags = () => useQuery({ queryKey: ["flags"], queryFn: () => ask<Flagged[]>("/api/office/flags") });
export const useDevices = () => useQuery({ queryKey: ["devices"], queryFn: () => ask<DeviceLine[]>("/api/office/devices") });
export const useHours = (from: string, to: string) =>
  useQuery({ queryKey: ["hours", from, to], queryFn: () => ask<HoursPage>(`/api/office/hours?from=${from}&to=${to}`), placeholderData: (old) => old });
export const useBadges = (enabled: boolean) => useQuery({ queryKey: ["badges"], queryFn: () => ask<BadgeLine[]>("/api/office/badges"), enabled });
export const useSentMessages = () => useQuery({ queryKey: ["messages"], queryFn: () => ask<SentMessage[]>("/api/office/messages") });
export const useRecordPage = (type: string, id: string) =>
  useQuery({ queryKey: ["record", type, id], queryFn: () => ask<RecordPage>(`/api/office/records/${type}/${encodeURIComponent(id)}`) });
export const useVisitPage = (id: string) =>
  useQuery({ queryKey: ["visit", id], queryFn: () => ask<VisitPage>(`/api/office/visits/${encodeURIComponent(id)}`) });
export const usePolicy = () => useQuery({ queryKey: ["policy"], queryFn: () => ask<Policy>("/api/office/policy") });
export const useAttention = (handled: boolean) =>
  useQuery({
    queryKey: ["attention", handled],
    queryFn: () => ask<AttentionLine[]>(`/api/office/attention${handled ? "?handled" : ""}`),
    placeholderData: (old) => old,
  });
export const useMeasured = (asset: string) =>
  useQuery({ queryKey: ["measured", asset], queryFn: () => ask<Series[]>(`/api/office/measured/${encodeURIComponent(asset)}`) });
export const useSubstances = (site: string) =>
  useQuery({ queryKey: ["substances", site], queryFn: () => ask<SubstancePage>(`/api/office/substances/${encodeURIComponent(site)}`) });
export const useSheets = () => useQuery({ queryKey: ["sheets"], queryFn: () => ask<SheetLine[]>("/api/office/sheets") });
export const useKinds = () => useQuery({ queryKey: ["kinds"], queryFn: () => ask<KindLine[]>("/api/office/kinds") });
export const useCustomers = (text: string) =>
  useQuery({
    queryKey: ["customers", text],
    queryFn: () => ask<CustomerHit[]>(`/api/office/customers?q=${encodeURIComponent(text)}`),
    enabled: text.trim().length > 1,
    placeholderData: (old) => (text.trim().length > 1 ? old : undefined),
  });

export const sentence = (e: unknown): string => say(e instanceof ApiError ? e.problem : { code: "unreadable" });

export interface Order {
  kind: string;
  subject: Ref;
  body: unknown;
  base?: unknown;
}

/** Records office commands, one after another. Each has an id of its own, so a repeat does it once. */
export function useCommands() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (orders: Order[]) => {
      for (const o of orders) {
        const command: Command = { id: ulid(), ...o };
        await ask<Done>("/api/office/entries", command);
      }
    },
    onSettled: () => client.invalidateQueries(),
  });
}

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
    <p role="alert" className="failure">
      {error ? <Tag kind="bad">{sentence(error)}</Tag> : null}
    </p>
  );
}
