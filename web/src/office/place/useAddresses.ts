import { useDeferredValue } from "react";
import type { AddressFound, MapPoint } from "../../types";
import { keepLast, useQuestion } from "../commands";

/** So many letters are looked up. */
const least = 3;

/** The addresses of the region that a text may mean, those near a point first; none where no region was brought. */
export function useAddresses(text: string, near?: MapPoint): AddressFound[] {
  const asked = useDeferredValue(text.trim());
  const enabled = asked.length >= least;
  const { data } = useQuestion("/api/office/addresses", { text: asked, ...near }, { enabled, staleTime: 60_000, ...keepLast });
  return (enabled && data?.found) || none;
}

const none: AddressFound[] = [];
