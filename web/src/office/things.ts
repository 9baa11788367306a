/** What goes along to visits: boats, rigs, whatever is booked. */
import type { Choice } from "../types";
import { useQuestion } from "./queries";

export const useThings = (): Choice[] =>
  (useQuestion("/api/office/planning", {}).data?.resources ?? []).filter((r) => !r.resource.gone).map((r) => ({ id: r.id, text: r.resource.name }));
