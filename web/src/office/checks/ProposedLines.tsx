import { useTranslation } from "react-i18next";
import type { ProposalLine } from "../../types";
import { price, quantity } from "../../ui/format";
import { useCurrency } from "../queries";

/** The lines of a recommendation, and what the customer said to each. */
export function ProposedLines({ lines }: { lines: ProposalLine[] }) {
  const { t } = useTranslation();
  const currency = useCurrency();
  return lines.map((l, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the lines of a recommendation keep their places
    <span className="small block" key={i}>
      {quantity(l.quantity, l.unit)} × {l.text}
      {l.price && <span className="quiet"> {price(l.price, currency)}</span>}
      {l.answer && <span className="quiet">, {t(`answer.${l.answer}`).toLowerCase()}</span>}
    </span>
  ));
}
