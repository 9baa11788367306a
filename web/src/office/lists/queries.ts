import { useQueryClient } from "@tanstack/react-query";
import { addressOf as wayTo } from "../../session/api";
import { askSeen } from "../../session/session";
import type { ListAll } from "../../types";
import { keepLast, useQuestion } from "../commands";
import { type Asking, askOf } from "./address";
import type { ListName } from "./words";

export const useList = (list: ListName, a: Asking) => useQuestion("/api/office/lists/:list", { list, ...askOf(a) }, keepLast);
export const useGroups = (list: ListName, a: Asking, by: string) =>
  useQuestion("/api/office/lists/:list/groups", { list, ...askOf(a), page: 0, by }, { enabled: by !== "", ...keepLast });
export const useViews = () => useQuestion("/api/office/views", {});

/** Asks for all lines that something is to be done with: those with some ids, or all that are asked for. */
export function useAll(list: ListName, a: Asking) {
  const client = useQueryClient();
  return (ids?: string[]) => {
    const address = wayTo("/api/office/lists/:list/all", { list, ...(ids ? { ids: JSON.stringify(ids) } : askOf({ ...a, page: 0 })) });
    return client.fetchQuery({ queryKey: [address], staleTime: 0, queryFn: async () => (await askSeen<ListAll>(address)).answer });
  };
}
