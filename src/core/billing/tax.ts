/** Tax on lines of an invoice. Rates are hundredths of a percent: 20 % is 2,000. */
import { rounded } from "../prices/money";

export interface TaxRate {
  readonly name: string;
  /** Hundredths of a percent. */
  readonly rate: number;
}
/** Whether prices have the tax in them. */
export type TaxMode = "none" | "inclusive" | "exclusive";

export interface Taxed {
  readonly net: number;
  readonly tax: number;
  readonly gross: number;
}

/** Rounded half up on each line: what an invoice shows is what was reckoned, and its total is the sum of what it shows. */
export function taxed(amount: number, mode: TaxMode, { rate }: Pick<TaxRate, "rate">): Taxed {
  if (mode === "none" || rate === 0) return { net: amount, tax: 0, gross: amount };
  if (mode === "exclusive") {
    const tax = rounded(BigInt(amount) * BigInt(rate), 10_000n);
    return { net: amount, tax, gross: amount + tax };
  }
  const tax = rounded(BigInt(amount) * BigInt(rate), BigInt(10_000 + rate));
  return { net: amount - tax, tax, gross: amount };
}

/** Whether the tax depends on where the buyer is: then nothing is sold or invoiced before that is known. */
export const asksCountry = (tax: { readonly mode: TaxMode; readonly rates: readonly unknown[] }): boolean =>
  tax.mode !== "none" && tax.rates.length > 0;
