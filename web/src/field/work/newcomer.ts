/** Somebody nobody knows yet, as they are typed where work is found for them. */
import { newId } from "../../device/record";
import type { NewRecords } from "../../types";

export interface Newcomer {
  customer: string;
  contact?: string;
  phone?: string;
  /** the place; named as the customer when it is left out */
  site?: string;
  address?: string;
  machine?: string;
  serial?: string;
}

export interface NewPlace {
  customer: string;
  site: string;
  asset?: string;
  records: NewRecords;
}

const typed = (text?: string) => text?.trim() || undefined;

/** The records that are made with the work, under ids of their own. */
export function recordsOf(n: Newcomer): NewPlace {
  const customer = newId();
  const site = newId();
  const asset = typed(n.machine) && newId();
  const contact = { name: typed(n.contact) ?? "", phone: typed(n.phone) };
  const name = n.customer.trim();
  return {
    customer,
    site,
    asset,
    records: {
      customer: { name, address: typed(n.address), contact },
      site: { customer, name: typed(n.site) ?? name, address: typed(n.address), contact },
      asset: asset ? { site, name: n.machine?.trim() ?? "", kind: "", serial: typed(n.serial) } : undefined,
    },
  };
}
