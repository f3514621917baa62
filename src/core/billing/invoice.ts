/**
 * Invoices: lines with their tax, what the company had to its credit, and what is to be paid. The total is the sum of what the lines show; what
 * comes out below nothing is no payment but credit, which the next invoice uses.
 */
import { rounded } from "../prices/money";
import { type Taxed, type TaxMode, type TaxRate, taxed } from "./tax";

export interface InvoiceLine extends Taxed {
  readonly text: string;
}

export interface Reckoned {
  readonly lines: readonly InvoiceLine[];
  readonly net: number;
  readonly tax: number;
  readonly total: number;
  /** Taken from the buyer's credit. */
  readonly credit: number;
  /** To be paid: never below nothing. */
  readonly due: number;
  /** What is to the buyer's credit from it. */
  readonly left: number;
}

const sum = (lines: readonly InvoiceLine[], of: "net" | "tax" | "gross"): number => lines.reduce((n, l) => n + l[of], 0);

/** Net, tax and total of lines, taxed line by line, and what is due after `credit`; all in minor units. */
export function reckon(
  lines: readonly { readonly text: string; readonly amount: number }[],
  mode: TaxMode,
  rate: Pick<TaxRate, "rate"> | null,
  credit = 0,
): Reckoned {
  const shown = lines.map((l): InvoiceLine => ({ text: l.text, ...taxed(l.amount, rate ? mode : "none", rate ?? { rate: 0 }) }));
  const total = sum(shown, "gross");
  const used = Math.max(0, Math.min(credit, total));
  return {
    lines: shown,
    net: sum(shown, "net"),
    tax: sum(shown, "tax"),
    total,
    credit: used,
    due: Math.max(0, total - used),
    left: Math.max(0, -total),
  };
}

/** The rate of a country (ISO 3166-1 alpha-2); none where the agency has none for it. */
export const rateFor = <R extends TaxRate & { readonly country: string }>(rates: readonly R[], country: string | null): R | null =>
  rates.find((r) => r.country === country) ?? null;

/**
 * The tax within a part of an invoice that is paid back, as the whole has it. `before` went back earlier: however it is parted, what was
 * charged goes back to the penny.
 */
export function refunded(of: Pick<Reckoned, "tax" | "total">, before: number, amount: number): Taxed {
  const within = (n: number): number => (of.total === 0 ? 0 : rounded(BigInt(of.tax) * BigInt(n), BigInt(of.total)));
  const tax = within(before + amount) - within(before);
  return { net: tax - amount, tax: 0 - tax, gross: -amount };
}

/** "INV-2026-0007": numbers run through a year without a gap; each year begins with 1. */
export const invoiceNumber = (prefix: string, day: string, n: number): string =>
  `${prefix}${day.slice(0, 4)}-${String(n).padStart(4, "0")}`;
