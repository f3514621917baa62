/** The invoice of what a subscription owes, with its lines as they are shown everywhere, whoever or whatever it was that led to it. */
import { rateFor, reckon } from "@/core/billing/invoice";
import { linesIn } from "@/core/billing/lines";
import { step } from "@/core/billing/subscription";
import { asksCountry } from "@/core/billing/tax";
import { plusDays } from "@/core/prices/periods";
import { sayIn } from "@/core/words/words";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";
import { companyFacts } from "../tables/company-facts";
import { buyerOf } from "./buyers";
import { creditOf } from "./credit";
import { subscriptionOf } from "./standing";
import { addInvoice, type Writing } from "./write-books";

type Due = Parameters<typeof linesIn>[1];

/** What these lines come to for the company: with its tax, and what its credit covers. */
function reckonedFor(file: PortalFile, company: string, due: Due) {
  const { definition } = published(file);
  const { tax } = definition.billing;
  const name = companyFacts(file, company)?.name ?? "";
  const buyer = buyerOf(file, company) ?? { name, email: "", address: "", country: "", taxNumber: "", reference: "" };
  const rate = rateFor(tax.rates, buyer.country || null);
  const lines = linesIn(definition, due, sayIn(definition.portal.locale));
  return { buyer, rate, lines, reckoned: reckon(lines, tax.mode, rate, Math.max(0, creditOf(file, company))) };
}

/**
 * The next payment of a subscription as its invoice will have it, tax and credit in it; null where nothing falls due by itself. `day` is the
 * first day that is not paid for.
 */
export function nextPayment(file: PortalFile, company: string): { readonly day: string; readonly due: number } | null {
  const life = subscriptionOf(file, company)?.life;
  if (!life || (life.state !== "active" && life.state !== "trial")) return null;
  const next = step(life, { kind: "day" }, life.paidUntil, published(file).definition.billing);
  if (!next || next.due.length === 0) return null;
  return { day: life.paidUntil, due: reckonedFor(file, company, next.due).reckoned.due };
}

/** Uses what is to the company's credit. @returns The invoice's id. */
export function invoiceDue(file: PortalFile, company: string, due: Due, w: Writing): string {
  const { tax, grace } = published(file).definition.billing;
  const { buyer, rate, lines, reckoned } = reckonedFor(file, company, due);
  const invoice = {
    what: lines[0]?.text ?? "",
    company,
    person: null,
    order: null,
    buyer,
    tax: { mode: rate ? tax.mode : "none", name: rate?.name ?? "", rate: rate?.rate ?? 0 },
    reckoned,
    due: plusDays(w.day, grace),
  };
  return addInvoice(file, invoice, w).id;
}

/** Whether its tax cannot be told: nothing is invoiced before its country is known. */
export const lacksCountry = (file: PortalFile, company: string): boolean =>
  asksCountry(published(file).definition.billing.tax) && !buyerOf(file, company)?.country;
