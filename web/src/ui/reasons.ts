/** The company's ready-made reasons; the usual ones of a company that has named none. */
import i18next from "i18next";
import type { Settings } from "../types";
import type { Word } from "../words/i18n";

export interface ReasonChoice {
  id: string;
  text: string;
}

const choices = (own: ReasonChoice[] | undefined, usual: string[], word: string): ReasonChoice[] =>
  own?.length ? own : usual.map((id) => ({ id, text: i18next.t(`${word}.${id}` as Word) }));

/** Why something that was asked for is left out. */
export const skipReasons = (s: Settings | undefined) => choices(s?.visits.skips, ["no_time", "not_here", "customer"], "skip");

/** Why nobody signs. */
export const absenceReasons = (s: Settings | undefined) => choices(s?.visits.unsigned, ["nobody", "refused"], "absent");

/** What a reason says; what is none of them is words already. */
export const reasonText = (list: ReasonChoice[], id: string) => list.find((r) => r.id === id)?.text ?? id;
