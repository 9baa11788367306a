/** Questions about parts to the server. */
import { useMutation } from "@tanstack/react-query";
import { useMemo } from "react";
import { Catalogue, kitItem, partItem } from "../../catalogue/catalogue";
import { core } from "../../device/core";
import { useCore } from "../../device/useCore";
import { sendFile } from "../../session/api";
import { keepLast, useQuestion } from "../commands";

const base = "/api/office/stores";
export const usePlaces = () => useQuestion("/api/office/stores/places", {});
export const useShelf = (place: string) => useQuestion("/api/office/stores/shelf/:place", { place }, { enabled: place !== "", ...keepLast });
export const useMovements = (place: string, part: string) => useQuestion("/api/office/stores/movements", { place, part }, keepLast);
export const useRequests = (over: boolean) => useQuestion("/api/office/stores/requests", { over }, keepLast);
export const usePurchases = () => useQuestion("/api/office/stores/purchases", {});
export const useHandovers = () => useQuestion("/api/office/stores/handovers", {});
export const usePicks = (day: string) => useQuestion("/api/office/stores/picks", { day }, keepLast);
export const useFills = () => useQuestion("/api/office/stores/fills", {});

/** The address of a file or paper. */
export const fileOf = (name: string, query: Record<string, string> = {}) => `${base}/file/${name}?${new URLSearchParams(query)}`;

/** The catalogue, ready for search; undefined until it and the core are there. */
export function useCatalogue(): Catalogue | undefined {
  const items = useQuestion("/api/office/stores/catalogue", {}).data;
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
  return useMutation({ mutationFn: (file: File) => sendFile("/api/office/stores/import/:file", { file: file.name }, file) });
}
