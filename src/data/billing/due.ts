/** The invoice of what a subscription owes, with its lines as they are shown everywhere, whoever or whatever it was that led to it. */
import { rateFor, reckon } from "@/core/billing/invoice";
import { linesIn } from "@/core/billing/lines";
import { plusDays } from "@/core/billing/periods";
import { sayIn } from "@/core/words/words";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";
import { companyFacts } from "../people/people";
import { addInvoice, creditOf, type Writing } from "./books";
import { buyerOf } from "./buyers";

/** Uses what is to the company's credit. @returns The invoice's id. */
export function invoiceDue(file: PortalFile, company: string, due: Parameters<typeof linesIn>[1], w: Writing): string {
  const { definition } = published(file);
  const { tax, grace } = definition.billing;
  const name = companyFacts(file, company)?.name ?? "";
  const buyer = buyerOf(file, company) ?? { name, email: "", address: "", country: "", taxNumber: "", reference: "" };
  const rate = rateFor(tax.rates, buyer.country || null);
  const lines = linesIn(definition, due, sayIn(definition.portal.locale));
  const invoice = {
    what: lines[0]?.text ?? "",
    company,
    person: null,
    order: null,
    buyer,
    tax: { mode: rate ? tax.mode : "none", name: rate?.name ?? "", rate: rate?.rate ?? 0 },
    reckoned: reckon(lines, tax.mode, rate, Math.max(0, creditOf(file, company))),
    due: plusDays(w.day, grace),
  };
  return addInvoice(file, invoice, w).id;
}
