/** Questions about parts to the server. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { Catalogue, kitItem, partItem } from "../../catalogue/catalogue";
import { core } from "../../device/core";
import { useCore } from "../../device/useCore";
import type { CatalogueItem, Fill, HandoverLine, ImportReport, MovementLine, NamedPlace, PickPage, PurchaseLine, RequestLine, Shelf } from "../../types";
import { question } from "../commands";

const base = "/api/office/stores";
const get = <T>(path: string) => question<T>(`${base}/${path}`);

export const usePlaces = () => useQuery({ queryKey: ["places"], queryFn: get<NamedPlace[]>("places") });
export const useShelf = (place: string) =>
  useQuery({
    queryKey: ["shelf", place],
    queryFn: get<Shelf>(`shelf/${encodeURIComponent(place)}`),
    enabled: place !== "",
    placeholderData: (old) => old,
  });
export const useMovements = (place: string, part: string) =>
  useQuery({
    queryKey: ["movements", place, part],
    queryFn: get<MovementLine[]>(`movements?place=${encodeURIComponent(place)}&part=${encodeURIComponent(part)}`),
    placeholderData: (old) => old,
  });
export const useRequests = (over: boolean) =>
  useQuery({ queryKey: ["requests", over], queryFn: get<RequestLine[]>(`requests${over ? "?over" : ""}`), placeholderData: (old) => old });
export const usePurchases = () => useQuery({ queryKey: ["purchases"], queryFn: get<PurchaseLine[]>("purchases") });
export const useHandovers = () => useQuery({ queryKey: ["handovers"], queryFn: get<HandoverLine[]>("handovers") });
export const usePicks = (day: string) =>
  useQuery({ queryKey: ["picks", day], queryFn: get<PickPage>(`picks${day ? `?day=${day}` : ""}`), placeholderData: (old) => old });
export const useFills = () => useQuery({ queryKey: ["fills"], queryFn: get<Fill[]>("fills") });

/** The address of a file or paper. */
export const fileOf = (name: string, query: Record<string, string> = {}) => `${base}/file/${name}?${new URLSearchParams(query)}`;

/** The catalogue, ready for search; undefined until it and the core are there. */
export function useCatalogue(): Catalogue | undefined {
  const items = useQuery({ queryKey: ["catalogue"], queryFn: get<CatalogueItem[]>("catalogue") }).data;
  const ready = useCore();
  return useMemo(() => {
    if (!items || !ready) return undefined;
    return new Catalogue(
      items.map((i) => (i.kit ? kitItem(i.id, i.kit) : partItem(i.id, i.part!))),
      (codes) => core("codes", { codes }),
    );
  }, [items, ready]);
}

/** Reads a file into the records; what is wrong with it comes back as a list. */
export function useImport() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (file: File) => {
      const answer = await fetch(`${base}/import/${encodeURIComponent(file.name)}`, { method: "POST", body: file });
      if (!answer.ok) throw new Error(answer.status === 404 ? "name" : "failed");
      return (await answer.json()) as ImportReport;
    },
    onSettled: () => client.invalidateQueries(),
  });
}
