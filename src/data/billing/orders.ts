/** Orders of guests: found by a link that only their mail has, and taken along by whoever holds that link and is signed in. */

import type { Actor } from "@/core/events/event";
import { INVOICES, ORDERS } from "@/core/schema/books";
import { sqlName } from "@/core/text/sql-name";
import { dateIn } from "@/core/time/relative";
import { published } from "../definition/published";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import { transact } from "../file/transact";
import { hasBooks } from "../tables/books-tables";
import { storeCompanyOf } from "../tables/company";
import { updateRow } from "../tables/store";
import type { Bought } from "./checkouts";
import { openOffer } from "./open-offer";
import { type Paper, paperOf } from "./write-books";

export interface OrderFacts {
  readonly id: string;
  readonly number: string;
  readonly what: string;
  readonly total: number;
  readonly day: string;
  readonly company: string | null;
  readonly invoice: string | null;
  readonly paper: Paper | null;
}

/** By its id, which whoever asks has shown a signed link for. */
export function orderFacts(file: PortalFile, id: string): OrderFacts | null {
  if (!hasBooks(file)) return null;
  const row = file.db
    .prepare(
      `SELECT f_order_number AS number, f_order_what AS what, f_order_total AS total, f_order_day AS day, f_order_company AS company FROM ${sqlName(ORDERS)} WHERE id = ?`,
    )
    .get(id) as Omit<OrderFacts, "id" | "invoice" | "paper"> | undefined;
  if (!row) return null;
  const invoice =
    (file.db
      .prepare(`SELECT id FROM ${sqlName(INVOICES)} WHERE f_invoice_order = ?`)
      .pluck()
      .get(id) as string | undefined) ?? null;
  return { id, ...row, invoice, paper: invoice ? paperOf(file, invoice) : null };
}

export interface Claimant {
  readonly company: string;
  readonly person: string;
  readonly actor: Actor;
  readonly now: number;
}

/** A guest's order becomes one of a person's, with its invoice and what it opens. False where it is somebody's already. */
export function claim(file: PortalFile, id: string, by: Claimant): boolean {
  return transact(file, () => {
    const order = orderFacts(file, id);
    if (!order || order.company !== null) return false;
    const { policy, definition } = published(file);
    const made = { by: by.person, at: new Date(by.now).toISOString() };
    const { schema } = policy;
    updateRow(
      file,
      schema,
      schema.table(ORDERS),
      id,
      { f_order_company: by.company, f_order_person: by.person, f_order_buyer: "person" },
      made,
    );
    storeCompanyOf(file, policy, ORDERS, id);
    if (order.invoice) {
      updateRow(file, schema, schema.table(INVOICES), order.invoice, { f_invoice_company: by.company, f_invoice_person: by.person }, made);
      storeCompanyOf(file, policy, INVOICES, order.invoice);
    }
    const body = file.db.prepare("SELECT body FROM sys_checkouts WHERE order_id = ?").pluck().get(id) as string | undefined;
    const bought = body ? (JSON.parse(body) as Bought) : null;
    const offer =
      bought?.wanted.kind === "offer" ? definition.offers.find((o) => o.id === (bought.wanted as { offer: string }).offer) : undefined;
    const w = { actor: by.actor, at: by.now, day: dateIn(by.now, definition.portal.timeZone) };
    if (offer && bought) openOffer(file, { company: by.company, person: by.person }, offer, bought, id, w);
    record(file, { actor: by.actor, via: "page", at: by.now, kind: "order-taken-along", company: by.company, detail: order.number });
    return true;
  });
}
